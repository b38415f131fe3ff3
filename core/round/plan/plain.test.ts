import { farShore, neapRink, nineFerriesMix } from '@rondo/core/profile';
import { stockLibrary } from '../../testing/random-room.js';
import { compile, plainOf } from '../index.js';

describe.each([nineFerriesMix(), neapRink(), farShore()])('$name', (profile) => {
  const plan = compile(profile, stockLibrary);

  test('what is told of its plan comes whole through a structured clone (HTML Living Standard)', () => {
    const plain = plainOf(plan);
    // Strictly: what has a class would lose it on the way.
    expect(structuredClone(plain)).toStrictEqual(plain);
  });

  test('and leaves out nothing but what only the engine needs', () => {
    const { links, actions, ...rest } = plainOf(plan);
    const { tables: _, ...all } = plan;
    expect({ ...all, ...rest }).toEqual(all);
    links.forEach((link, at) => expect(plan.links[at]).toMatchObject(link));
    actions.forEach((action, at) => expect(plan.actions[at]).toMatchObject(action));
  });
});
