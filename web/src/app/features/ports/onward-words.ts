import type { MessageKind, Roles } from '@rondo/core/profile';
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

/**
 * What is to be known of messages that go on: that a kind has to be chosen, and which keys would sound that are not meant to.
 * @param to what they go on to, by name
 */
export function onwardWords(
  surface: Surface | undefined,
  roles: Roles,
  kinds: readonly MessageKind[],
  to: string,
): string[] {
  if (kinds.length === 0)
    return [
      'Switch on the kinds that are to go on. So far only bindings that pass their message on do.',
    ];
  const words = ['Bindings that pass their message on send it there too, whatever its kind.'];
  const outside = surface && kinds.includes('note') ? notesOutside(surface, roles) : [];
  if (roles.notes.length > 0 && outside.length > 0) {
    const some = outside.slice(0, NAMED).join(', ');
    const more = outside.length > NAMED ? ` and ${outside.length - NAMED} more` : '';
    words.push(
      `${some}${more} would sound in ${to}, too, as long as nothing is bound there: their notes are not among those to be played.`,
    );
  }
  return words;
}
