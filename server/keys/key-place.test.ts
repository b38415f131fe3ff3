import fc from 'fast-check';
import { strokeAddress, writeOscMessage, type KeyWay, type NetPlace } from '@rondo/core/wire';
import type { KeyAdapter, ToAdapter } from './adapter';
import { KeyPlace } from './key-place';

const stroke = fc.record({
  way: fc.constantFrom<KeyWay>('press', 'hold', 'repeat'),
  key: fc.constantFrom('KeyA', 'KeyB', 'Space'),
});
const deed = fc.record({
  stroke,
  value: fc.constantFrom(0, 1, 0.2),
  front: fc.constantFrom(null, 'Placard', 'A letter'),
});
const addressOf = ({ way, key }: { way: KeyWay; key: string }): string =>
  strokeAddress({ way, chords: [[key]] });

test('whatever comes, only what is listed goes down, only in front, and nothing is down in the end', () => {
  fc.assert(
    fc.property(
      fc.array(stroke, { maxLength: 6 }),
      fc.constantFrom('', 'placard'),
      fc.array(deed, { maxLength: 30 }),
      (listed, program, deeds) => {
        const told: { readonly message: ToAdapter; readonly front: string | null }[] = [];
        const keyboard = {
          front: null as string | null,
          tell: (message: ToAdapter) => told.push({ message, front: keyboard.front }),
        };
        const strokes = listed.map(addressOf);
        const place: NetPlace = {
          link: 'host',
          listen: null,
          to: null,
          from: [],
          keys: { program },
          strokes,
        };
        const one = new KeyPlace(place, keyboard as unknown as KeyAdapter, () => undefined);
        for (const { stroke: which, value, front } of deeds) {
          keyboard.front = front;
          one.send(writeOscMessage(addressOf(which), [{ as: 'float', value }]));
        }
        one.stop();
        const down: string[] = [];
        for (const { message, front } of told) {
          if (message.kind === 'allow') continue;
          const [key] = message.keys;
          if (message.kind === 'up') {
            expect(down).toContain(key);
            down.splice(down.indexOf(key), 1);
            continue;
          }
          if (message.kind === 'down') down.push(key);
          expect(strokes.some((address) => address.endsWith(`/${key}`))).toBe(true);
          expect(program === '' || front === null || front === 'Placard').toBe(true);
        }
        expect(down).toEqual([]);
      },
    ),
  );
});
