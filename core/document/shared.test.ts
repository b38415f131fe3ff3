import fc from 'fast-check';
import { edit, type Edit } from './edit.js';
import {
  follow,
  isNext,
  lead,
  make,
  order,
  replicaOf,
  shown,
  type Numbered,
  type Replica,
} from './shared.js';

interface Doc {
  name: string;
  rows: Record<string, number>;
  list: string[];
}
const START: Doc = { name: 'first', rows: { a: 1, b: 2 }, list: ['x'] };

/** What windows tell each other, as the page does. */
type Told =
  | { readonly kind: 'ask'; readonly edit: Numbered }
  | { readonly kind: 'ordered'; readonly edit: Numbered }
  | { readonly kind: 'state'; readonly of: Pick<Replica<Doc>, 'agreed' | 'seen'> };

interface Window {
  readonly id: string;
  replica: Replica<Doc>;
  count: number;
  leads: boolean;
  isOpen: boolean;
  /** What has been told to it and not been heard yet, in the order in which it was told. */
  readonly inbox: Told[];
}

type Step =
  | { readonly does: 'edit'; readonly who: number; readonly how: number; readonly value: number }
  | { readonly does: 'hear'; readonly who: number }
  | { readonly does: 'close'; readonly who: number };

const who = fc.nat({ max: 3 });
const steps: fc.Arbitrary<Step[]> = fc.array(
  fc.oneof(
    {
      weight: 5,
      arbitrary: fc.record({
        does: fc.constant('edit' as const),
        who,
        how: fc.nat({ max: 4 }),
        value: fc.nat({ max: 5 }),
      }),
    },
    { weight: 8, arbitrary: fc.record({ does: fc.constant('hear' as const), who }) },
    { weight: 1, arbitrary: fc.record({ does: fc.constant('close' as const), who }) },
  ),
  { maxLength: 60 },
);

function editOf(document: Doc, how: number, value: number): Edit | null {
  return edit(document, `edit ${how}`, (draft) => {
    if (how === 0) draft.name = `name ${value}`;
    else if (how === 1) draft.rows[`row ${value}`] = value * 10 + Object.keys(draft.rows).length;
    else if (how === 2) Reflect.deleteProperty(draft.rows, `row ${value}`);
    else if (how === 3) draft.list.push(`entry ${value}`);
    else draft.list.splice(0, 1);
  }).edit;
}

class Room {
  readonly windows: Window[] = Array.from({ length: 4 }, (_, i) => ({
    id: `w${i}`,
    replica: replicaOf(START),
    count: 0,
    leads: i === 0,
    isOpen: true,
    inbox: [],
  }));
  /** All that those who led have put in order. */
  readonly log: string[] = [];

  private order(window: Window, numbered: Numbered): void {
    window.replica = order(window.replica, numbered).replica;
    this.log.push(`${numbered.from} ${numbered.n}`);
    this.tell(window, { kind: 'ordered', edit: numbered });
  }

  tell(from: Window, told: Told): void {
    for (const other of this.windows) if (other !== from && other.isOpen) other.inbox.push(told);
  }

  edit(window: Window, how: number, value: number): void {
    const made = window.isOpen ? editOf(shown(window.replica), how, value) : null;
    if (!made) return;
    const numbered = { from: window.id, n: (window.count += 1), edit: made };
    if (window.leads) this.order(window, numbered);
    else {
      window.replica = make(window.replica, numbered);
      this.tell(window, { kind: 'ask', edit: numbered });
    }
  }

  hear(window: Window): void {
    const told = window.inbox.shift();
    if (!told) return;
    if (told.kind === 'ask') {
      if (!window.leads || !isNext(window.replica, told.edit)) return;
      this.order(window, told.edit);
    } else if (window.leads) return;
    else if (told.kind === 'ordered') window.replica = order(window.replica, told.edit).replica;
    else {
      window.replica = follow(window.replica, told.of);
      for (const own of window.replica.pending) this.tell(window, { kind: 'ask', edit: own });
    }
  }

  close(window: Window): void {
    const open = this.windows.filter(({ isOpen }) => isOpen);
    if (!window.isOpen || open.length === 1) return;
    window.isOpen = false;
    if (!window.leads) return;
    window.leads = false;
    const next = open.find((other) => other !== window)!;
    // What the one before has ordered was told to it before the lock was free.
    while (next.inbox.length > 0) this.hear(next);
    next.leads = true;
    this.log.push(...next.replica.pending.map(({ from, n }) => `${from} ${n}`));
    next.replica = lead(next.replica);
    const { agreed, seen } = next.replica;
    this.tell(next, { kind: 'state', of: { agreed, seen } });
  }
}

test('whatever windows edit, in whatever order they hear of it and whichever close, in the end all show the same', () => {
  fc.assert(
    fc.property(steps, (list) => {
      const room = new Room();
      for (const step of list) {
        const window = room.windows[step.who];
        if (step.does === 'edit') room.edit(window, step.how, step.value);
        else if (step.does === 'hear') room.hear(window);
        else room.close(window);
      }
      while (room.windows.some(({ isOpen, inbox }) => isOpen && inbox.length > 0))
        for (const window of room.windows) if (window.isOpen) room.hear(window);
      const open = room.windows.filter(({ isOpen }) => isOpen);
      const [first] = open;
      for (const window of open) {
        expect(shown(window.replica)).toEqual(shown(first.replica));
        expect(window.replica.pending).toEqual([]);
        // Every edit of a window that is still open came to its turn once: none is lost, none is done twice.
        const turns = room.log.filter((entry) => entry.startsWith(`${window.id} `));
        expect(turns).toEqual(
          Array.from({ length: window.count }, (_, i) => `${window.id} ${i + 1}`),
        );
      }
    }),
    { numRuns: 500 },
  );
});

test('a window that follows shows its own edit at once, and takes it back where another changed the same place first', () => {
  const named = (name: string) => edit(START, name, (draft) => void (draft.name = name)).edit!;
  const mine = { from: 'me', n: 1, edit: named('mine') };
  const replica = make(replicaOf(START), mine);
  expect(shown(replica).name).toBe('mine');
  const theirs = order(replica, { from: 'them', n: 1, edit: named('theirs') });
  expect(shown(theirs.replica).name).toBe('theirs');
  expect(order(theirs.replica, mine)).toMatchObject({ applied: false, replica: { pending: [] } });
});
