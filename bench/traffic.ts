import { farShore, type Profile } from '@rondo/core/profile';

/** A message of the mixed traffic, and whether it is an event: never left out, never out of its order. */
export interface Sent {
  readonly bytes: number[];
  readonly event: boolean;
}

/**
 * The n-th message of a desk in full use: eight touched faders that move, keys, ticks of an encoder, notes that are
 * passed on, and clock. Self-contained, so that it can be put into a page.
 */
export function message(n: number): Sent {
  const turn = Math.floor(n / 10);
  switch (n % 10) {
    case 0:
      return { bytes: [0x90, 0x10 + (turn % 8), 0x7f], event: true };
    case 1:
      return { bytes: [0x90, 0x10 + (turn % 8), 0x00], event: true };
    case 2:
      return { bytes: [0xb0, 0x10 + (turn % 8), turn % 2 === 0 ? 0x01 : 0x41], event: true };
    case 3:
      return { bytes: [0x9f, turn % 128, 1 + (turn % 127)], event: true };
    case 4:
      return { bytes: [0xf8], event: true };
    default: {
      const place = ((n * 37) & 1_023) << 4;
      return { bytes: [0xe0 | (n % 8), place & 0x7f, place >> 7], event: false };
    }
  }
}

/** The touches by which all eight faders are in hand. */
export const TOUCHES = Array.from({ length: 8 }, (_, fader) => [0x90, 0x68 + fader, 0x7f]);

/** A desk before a program that knows one desk only; notes and clock that match nothing go on to it too. */
export function throughProfile(): Profile {
  const demo = farShore();
  return {
    ...demo,
    id: 'bench-cables',
    name: 'Bench cables',
    surfaces: { desk: demo.surfaces['desk'] },
    routes: {
      on: {
        id: 'on',
        from: { surface: 'desk' },
        to: { host: 'program' },
        kinds: ['note', 'clock'],
      },
    },
    routeOrder: ['on'],
    surfaceOrder: ['desk'],
    hosts: { program: demo.hosts['program'] },
    hostOrder: ['program'],
    bindings: {},
    bindingOrder: [],
    layers: { base: demo.layers['base'] },
    layerOrder: ['base'],
  };
}

/** What is left out or out of order of some events. */
export interface Missing {
  lost: number;
  disordered: number;
}

export const quantile = (list: readonly number[], q: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];
