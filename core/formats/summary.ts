import { dequal } from 'dequal';
import type { Binding, Profile } from '@rondo/core/profile';
import type { RondoFile } from './rondo-file.js';
import { doesText, isOrder, placeName } from './diff.js';

/** As many changes are named; of the rest it is said how many there are. */
const MOST_NAMED = 4;

const counted = (count: number, one: string, many: string): string[] =>
  count === 0 ? [] : [count === 1 ? `1 ${one}` : `${count} ${many}`];

interface Told {
  readonly named: string[];
  lights: number;
  tuned: number;
}

/** What becomes of one binding, told of its control. */
function tellBinding(
  told: Told,
  name: string,
  was: Binding | undefined,
  is: Binding | undefined,
): void {
  if (!was || !is) {
    told.named.push(is ? `${name}: ${doesText(is)} bound` : `${name}: ${doesText(was)} taken off`);
    return;
  }
  const [before, after] = [doesText(was), doesText(is)];
  if (before !== after) told.named.push(`${name}: ${before} → ${after}`);
  else if (dequal({ ...was, returns: null }, { ...is, returns: null })) told.lights++;
  else told.tuned++;
}

type Labelled = Readonly<Record<string, { readonly label: string }>>;

const FAMILIES = {
  layers: 'layer',
  flags: 'flag',
  surfaces: 'surface',
  hosts: 'host',
} as const;

/**
 * What was changed from one version of a profile to the next, in one line: ‘Fader 3: volume → send 2; 4 lights; layer Shift
 * renamed’. Empty only where nothing was.
 * @param surfaces of one's own, by whose labels controls are called
 */
export function changeSummary(
  before: Profile,
  after: Profile,
  surfaces: RondoFile['surfaces'] = [],
): string {
  const told: Told = { named: [], lights: 0, tuned: 0 };
  const differs = <T extends object>(
    was: Readonly<Record<string, T>>,
    is: Readonly<Record<string, T>>,
  ) =>
    [...new Set([...Object.keys(was), ...Object.keys(is)])].filter(
      (id) => !dequal(own(was, id), own(is, id)),
    );
  if (before.name !== after.name) told.named.push(`called “${after.name}”`);
  for (const id of differs(before.bindings, after.bindings)) {
    const name = placeName(['bindings', id], [after, before], surfaces);
    tellBinding(told, name, own(before.bindings, id), own(after.bindings, id));
  }
  for (const family of Object.keys(FAMILIES) as (keyof typeof FAMILIES)[]) {
    const [then, now]: [Labelled, Labelled] = [before[family], after[family]];
    for (const id of differs(then, now)) {
      const [was, is] = [own(then, id), own(now, id)];
      const what = `${FAMILIES[family]} ${(is ?? was)?.label ?? id}`;
      if (!was || !is) told.named.push(`${what} ${is ? 'added' : 'taken out'}`);
      else if (was.label !== is.label)
        told.named.push(`${FAMILIES[family]} ${was.label} renamed ${is.label}`);
      else told.named.push(`${what} changed`);
    }
  }
  told.lights += differs(before.showings, after.showings).length;
  const routes = differs(before.routes, after.routes).length;
  const lines = [
    ...told.named.slice(0, MOST_NAMED),
    ...counted(told.named.length - Math.min(MOST_NAMED, told.named.length), 'more', 'more'),
    ...counted(told.lights, 'light', 'lights'),
    ...counted(told.tuned, 'feel', 'feels'),
    ...counted(routes, 'route', 'routes'),
  ];
  if (lines.length > 0) return lines.join('; ');
  const fields = [...new Set([...Object.keys(before), ...Object.keys(after)])].filter(
    (key) => !dequal(before[key], after[key]),
  );
  if (fields.length === 0) return '';
  return fields.every(isOrder) ? 'the order' : 'settings of the whole profile';
}

const own = <T>(entries: Readonly<Record<string, T>>, id: string): T | undefined =>
  Object.hasOwn(entries, id) ? entries[id] : undefined;
