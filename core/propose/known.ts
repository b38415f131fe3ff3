import { patternKey } from '@rondo/core/host';
import { pagesOf, sendsOf, type Surface } from '@rondo/core/surface';

/** What a channel message is known by, whatever its value: as {@link patternKey} writes what sends it; null for others. */
export function heardKey([status, data]: ArrayLike<number> & Iterable<number>): string | null {
  const channel = (status & 0x0f) + 1;
  switch (status & 0xf0) {
    case 0x80:
    case 0x90:
      return `note ${channel} ${data}`;
    case 0xb0:
      return `controller ${channel} ${data}`;
    case 0xe0:
      return `pitchBend ${channel}`;
    default:
      return null;
  }
}

/** As few different messages tell which surface it is. */
const FEWEST = 2;

/**
 * Which surfaces send all that was heard, those with the fewest other controls first: what was touched says most about them.
 * @param heard keys as {@link heardKey} writes them; too few tell nothing
 */
export function knownBySending(
  surfaces: readonly Surface[],
  heard: ReadonlySet<string>,
): Surface[] {
  if (heard.size < FEWEST) return [];
  return surfaces
    .filter((surface) => {
      const sent = new Set<string>();
      for (const control of surface.controls)
        for (const page of pagesOf(surface))
          for (const pattern of Object.values(sendsOf(surface, control, page))) {
            sent.add(patternKey(pattern));
            // Its fine half is a controller, too.
            if (pattern.type === 'controllerPair')
              sent.add(`controller ${pattern.channel} ${pattern.lsb}`);
          }
      return [...heard].every((key) => sent.has(key));
    })
    .sort((a, b) => a.controls.length - b.controls.length);
}
