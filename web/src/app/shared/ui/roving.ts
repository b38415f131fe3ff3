import { computed, signal } from '@angular/core';
import { nearest, type Box } from '../panel/geometry';

/** Directions of the arrow keys, right and down. */
const ARROWS: Readonly<Record<string, readonly [number, number] | undefined>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
const GOES: ReadonlySet<string> = new Set([
  ...Object.keys(ARROWS),
  'Home',
  'End',
  'PageUp',
  'PageDown',
]);

/** Something that the keyboard can come to. */
export interface Place extends Box {
  readonly id: string;
  focus(): void;
}

/**
 * Many things as one stop of Tab: arrows go between them; Enter takes hold of one, whose value they move from then on, and
 * Enter or Escape let go of it (ARIA Authoring Practices, roving tabindex).
 */
export class Roving {
  private readonly visited = signal('');
  private readonly ids = signal<readonly string[]>([]);
  /** The one thing that Tab comes to: the one that had the focus last, else the first. */
  readonly stop = computed(() => {
    const ids = this.ids();
    const visited = this.visited();
    return ids.includes(visited) ? visited : (ids.at(0) ?? '');
  });
  /** The thing whose value the arrows move; '' while they go between things. */
  readonly taken = signal('');

  /** These are there now, in the order of reading. */
  among(ids: readonly string[]): void {
    this.ids.set(ids);
    this.taken.update((taken) => (ids.includes(taken) ? taken : ''));
  }

  /** The focus has come to it. */
  entered(id: string): void {
    this.visited.set(id);
    if (id !== this.taken()) this.taken.set('');
  }

  /**
   * What a key means as long as nothing is taken hold of, and Enter and Escape at any time.
   * @param at has the focus
   * @returns false where the key is for the thing itself
   */
  key(event: KeyboardEvent, at: string, places: readonly Place[]): boolean {
    const isTaken = this.taken() === at;
    if (event.key === 'Enter') {
      if (!event.repeat) this.taken.set(isTaken ? '' : at);
    } else if (event.key === 'Escape') {
      if (!isTaken) return false;
      this.taken.set('');
    } else if (GOES.has(event.key) && !isTaken) this.go(event.key, at, places);
    else return false;
    event.preventDefault();
    return true;
  }

  private go(key: string, at: string, places: readonly Place[]): void {
    const from = places.find(({ id }) => id === at);
    const others = places.filter(({ id }) => id !== at);
    if (key === 'Home') others.at(0)?.focus();
    else if (key === 'End') others.at(-1)?.focus();
    else if (from) nearest(from, others, ARROWS[key])?.focus();
  }
}
