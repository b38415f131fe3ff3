import { Injector } from '@angular/core';
import { Store } from '@ngrx/store';
import { neapRink, removeSurface, type Profile } from '@rondo/core/profile';
import type { Edited } from '@rondo/core/document';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { deviceHere, rememberDevice } from '../../engine/port-choice';
import { Api, ApiError } from '../../state/api';
import { OwnCopy } from './own-copy';
import { Workbench } from './workbench';

const port = { id: 'in', name: 'Grid', manufacturer: '' };

/** A profile, and a server that takes copies or refuses them. */
function room(isRefused = false) {
  let profile: Profile = neapRink();
  const stored: Surface[] = [];
  const create = async (_kind: string, document: Surface) => {
    await Promise.resolve();
    if (isRefused) throw new ApiError('refused', 'There is no room.');
    stored.push(document);
  };
  const bench = {
    profile: () => profile,
    edit: (does: (now: Profile) => Edited<Profile>) => (profile = does(profile).document),
  };
  const injector = Injector.create({
    providers: [
      OwnCopy,
      { provide: Api, useValue: { create } },
      { provide: Store, useValue: { dispatch: () => undefined } },
      { provide: Workbench, useValue: bench },
    ],
  });
  const open = (other: Profile) => (profile = other);
  return { copies: injector.get(OwnCopy), stored, now: () => profile, open };
}
const gridOf = ({ surfaces }: Profile) =>
  Object.values(surfaces).find(({ label }) => label === 'Cobble 64')!;

test('pressed twice there is one copy, with all that was bound and where the device was', async () => {
  const { copies, stored, now } = room();
  const before = now();
  const { id } = gridOf(before);
  rememberDevice('cobble-64', { real: true, input: port, output: null });
  const [one, two] = await Promise.all([copies.of(id), copies.of(id)]);
  expect(stored).toHaveLength(1);
  expect([one, two]).toEqual([stored[0].id, stored[0].id]);
  expect(stored[0].controls).toEqual(STOCK_SURFACES.get('cobble-64')!.controls);
  expect(gridOf(now()).model).toBe(one);
  expect(now().bindings).toEqual(before.bindings);
  expect(deviceHere(one!, [port], [])?.input?.id).toBe('in');
  // What is one's own already is that.
  expect(await copies.of(id)).toBe(one);
  expect(stored).toHaveLength(1);
});

test('a profile that is opened meanwhile is not touched, nor a surface missed that was taken out', async () => {
  const { copies, now, open } = room();
  const { id } = gridOf(now());
  for (const other of [{ ...now(), id: 'other' }, removeSurface(now(), id).document]) {
    open(neapRink());
    const going = copies.of(id);
    open(other);
    expect(await going).toBeNull();
    expect(now()).toBe(other);
  }
});

test('where none can be made the profile stays as it is, and it is said why', async () => {
  const { copies, now } = room(true);
  const before = now();
  expect(await copies.of(gridOf(before).id)).toBeNull();
  expect(now()).toBe(before);
  expect(copies.trouble()).toMatch(/Cobble 64.*There is no room/);
});
