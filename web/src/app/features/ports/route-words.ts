import { MESSAGE_KINDS, type MessageKind, type Roles, type RouteTerms } from '@rondo/core/profile';
import type { RouteTraffic } from '@rondo/core/round';
import { noteName } from '@rondo/core/wire';
import { sendsOf, type Surface } from '@rondo/core/surface';

/** Controls that are named before it is only said how many more there are. */
const NAMED = 3;

/** Controls of a surface that send a note outside of those that are to be played. */
export function notesOutside(surface: Surface, roles: Roles): string[] {
  const isPlayed = (channel: number, note: number) =>
    roles.notes.some(
      (range) =>
        (range.channel === null || range.channel === channel) &&
        note >= range.from &&
        note <= range.to,
    );
  return surface.controls.flatMap((control) =>
    Object.values(sendsOf(surface, control)).some(
      (pattern) => pattern.type === 'note' && !isPlayed(pattern.channel, pattern.number),
    )
      ? [control.label]
      : [],
  );
}

const KIND_NAMES: Readonly<Record<MessageKind, string>> = {
  note: 'notes',
  controller: 'controllers',
  program: 'programs',
  bend: 'pitch bend',
  pressure: 'pressure',
  sysex: 'SysEx',
  clock: 'clock, start and stop',
  osc: 'OSC',
};
/** What kinds of message are called. */
export const kindName = (kind: MessageKind): string => KIND_NAMES[kind];

/** Kinds that a link can say: MIDI's, or OSC alone. */
export const kindsOf = (isOsc: boolean): MessageKind[] =>
  MESSAGE_KINDS.filter((kind) => (kind === 'osc') === isOsc);

const inWords = new Intl.ListFormat('en-GB', { style: 'long', type: 'conjunction' });

/** A list of numbers with its runs drawn together, as 1–4, 7 and 10. */
export function runs(numbers: readonly number[]): string {
  const list: [number, number][] = [];
  for (const n of [...numbers].sort((a, b) => a - b)) {
    const last = list.at(-1);
    if (last && n === last[1] + 1) last[1] = n;
    else list.push([n, n]);
  }
  return inWords.format(
    list.flatMap(([from, to]) =>
      from === to ? [`${from}`] : to === from + 1 ? [`${from}`, `${to}`] : [`${from}–${to}`],
    ),
  );
}

/**
 * What a route takes and how it goes on, as the rest of a sentence that begins with its ends.
 * @param isOsc its input speaks OSC
 */
export function routeWords(route: RouteTerms, isOsc: boolean): string {
  const { kinds, channels, notes, transpose, channel, rest } = route;
  if (kinds.length === 0) return 'only what a binding passes on';
  const isAll = kindsOf(isOsc).every((kind) => kinds.includes(kind));
  const names = kinds.map((kind) =>
    kind === 'note' && notes
      ? `notes ${noteName(notes.from)}–${noteName(notes.to)}`
      : kindName(kind),
  );
  const what = isAll && !notes ? 'everything' : `only ${inWords.format(names)}`;
  const on = channels ? ` on channel${channels.length > 1 ? 's' : ''} ${runs(channels)}` : '';
  const changes = [
    ...(transpose
      ? [
          `${Math.abs(transpose)} semitone${Math.abs(transpose) > 1 ? 's' : ''} ${transpose > 0 ? 'up' : 'down'}`,
        ]
      : []),
    ...(channel === undefined ? [] : [`all as channel ${channel}`]),
  ];
  const left = rest ? ' that no other line takes' : '';
  return `${what}${on}${left}${changes.map((change) => `; ${change}`).join('')}`;
}

/** How even a clock is, in words; empty where none goes along. Beats a minute at 24 ticks a beat (MIDI 1.0). */
export function clockWords({ tickGap, cameJitter, wentJitter }: RouteTraffic): string {
  if (tickGap === 0) return '';
  const ms = (micros: number) => `${(micros / 1_000).toFixed(1)} ms`;
  return `Clock ${(60_000_000 / (24 * tickGap)).toFixed(1)} bpm: comes with ${ms(cameJitter)} of jitter, goes on with ${ms(wentJitter)}.`;
}

/**
 * What is to be known of the routes of a surface: which of its keys would sound that are not meant to.
 * @param to where its notes go on to, by name
 */
export function strayNotes(surface: Surface, roles: Roles, to: readonly string[]): string {
  const outside = to.length > 0 && roles.notes.length > 0 ? notesOutside(surface, roles) : [];
  if (outside.length === 0) return '';
  const some = outside.slice(0, NAMED).join(', ');
  const more = outside.length > NAMED ? ` and ${outside.length - NAMED} more` : '';
  return `${some}${more} would sound in ${inWords.format(to)}, too, as long as nothing is bound there: their notes are not among those to be played.`;
}
