/** Colours that functions have in the trade (common practice, no source), by function. */
const COLOURS: Readonly<Record<string, string>> = {
  mute: '#f59e0b',
  solo: '#facc15',
  arm: '#ef4444',
  record: '#ef4444',
  play: '#22c55e',
  cue: '#f97316',
  headphone: '#38bdf8',
  sync: '#38bdf8',
  loop: '#a3e635',
  punch: '#ef4444',
};
/** What begins so: all hot cues, all clips. */
const BY_BEGINNING: readonly (readonly [string, string])[] = [
  ['hotCue', '#f97316'],
  ['clip', '#22c55e'],
  ['stemMute', '#f59e0b'],
  ['stemSolo', '#facc15'],
  ['sampler', '#c084fc'],
  ['effect', '#22d3ee'],
  ['loop', '#a3e635'],
];

/** A function with the colour that it has in the trade, where it has one. */
export function inTradeColour<F extends { readonly id: string }>(fn: F): F & { colour?: string } {
  const colour =
    COLOURS[fn.id] ?? BY_BEGINNING.find(([beginning]) => fn.id.startsWith(beginning))?.[1];
  return colour === undefined ? fn : { ...fn, colour };
}
