import fc from 'fast-check';
import { edit, placesInTheWay, redo, reversed, undo, type Edit } from './edit.js';

/** A document with one of everything that documents have: entities by id with their order, lists, objects, texts. */
interface Doc {
  name: string;
  things: Record<string, { label: string; tags: string[]; feel?: Record<string, number> }>;
  thingOrder: string[];
}

const START: Doc = {
  name: 'first',
  things: { a: { label: 'A', tags: ['x', 'y'] }, b: { label: 'B', tags: [], feel: { low: 1 } } },
  thingOrder: ['a', 'b'],
};

/** One edit by numbers, as a page would make it on a document as it is. */
function editOf(document: Doc, how: number, value: number, fresh: string): Edit | null {
  const id = document.thingOrder[value % Math.max(1, document.thingOrder.length)];
  return edit(document, `${how} ${value}`, (draft) => {
    if (how === 0) draft.name = `name ${value}`;
    else if (how === 1) {
      draft.things[fresh] = { label: fresh, tags: [], feel: { high: value, low: 0 } };
      draft.thingOrder.splice(value % (draft.thingOrder.length + 1), 0, fresh);
    } else if (!id) return;
    else if (how === 2) {
      Reflect.deleteProperty(draft.things, id);
      draft.thingOrder.splice(draft.thingOrder.indexOf(id), 1);
    } else if (how === 3) draft.things[id].tags.push(`t${value}`);
    else if (how === 4) draft.things[id].tags.shift();
    else if (how === 5) draft.things[id].feel = { high: value, low: value };
    else if (how === 6) Reflect.deleteProperty(draft.things[id], 'feel');
    else if (how === 7) draft.thingOrder.reverse();
    else if (how === 8) draft.thingOrder = draft.thingOrder.filter((one) => one !== id).concat(id);
    else draft.things[id].label = `label ${value}`;
  }).edit;
}

/** As it comes back from a server or a file: the keys of its objects in another order. */
const readAgain = <T>(value: T): T =>
  JSON.parse(JSON.stringify(value), (_, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).reverse())
      : inner,
  ) as T;

const inAnyOrder = (document: Doc) => ({
  ...document,
  thingOrder: [...document.thingOrder].sort(),
});

const step = fc.record({ how: fc.nat({ max: 9 }), value: fc.nat({ max: 7 }) });

test('all edits are taken back to the first document and done again to the last, also when it was read again between any two', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 20 }), fc.func(fc.boolean()), (steps, isRead) => {
      let document = START;
      const done: Edit[] = [];
      steps.forEach(({ how, value }, at) => {
        const made = editOf(document, how, value, `f${at}`);
        if (!made) return;
        done.push(isRead(at) ? readAgain(made) : made);
        document = redo(document, made)!;
        if (isRead(-at)) document = readAgain(document);
      });
      const last = document;
      for (const one of [...done].reverse()) document = readAgain(undo(document, one)!);
      expect(document).toEqual(START);
      for (const one of done) document = redo(document, one)!;
      expect(document).toEqual(last);
    }),
    { numRuns: 500 },
  );
});

test('an edit that is taken back takes nothing of another hand along: what it does not find as it left it, it leaves', () => {
  fc.assert(
    fc.property(step, fc.array(step, { maxLength: 6 }), (own, others) => {
      const mine = editOf(START, own.how, own.value, 'mine');
      if (!mine) return;
      let document = redo(START, mine)!;
      let without: Doc | null = START;
      others.forEach(({ how, value }, at) => {
        const made = editOf(document, how, value, `other${at}`);
        if (!made) return;
        document = redo(document, made)!;
        without &&= redo(without, made);
      });
      const back = undo(document, mine);
      if (back === null) {
        expect(placesInTheWay(document, reversed(mine))).not.toEqual([]);
        return;
      }
      expect(placesInTheWay(document, reversed(mine))).toEqual([]);
      // What the others did can be done without mine: then that is what is left. Where several have moved the same
      // neighbours about, the place in the order is a matter of taste.
      if (without) expect(inAnyOrder(back)).toEqual(inAnyOrder(without));
      expect(Object.keys(back.things).sort()).toEqual([...back.thingOrder].sort());
    }),
    { numRuns: 1_000 },
  );
});

test('two that were put into an order by two windows are taken back by each, whoever is first', () => {
  const put = (document: Doc, id: string) =>
    edit(document, id, (draft) => {
      draft.things[id] = { label: id, tags: [] };
      draft.thingOrder.push(id);
    });
  const one = put(START, 'one');
  const two = put(one.document, 'two');
  const back = undo(two.document, one.edit!)!;
  expect(back.thingOrder).toEqual(['a', 'b', 'two']);
  expect(undo(back, two.edit!)).toEqual(START);
});

test('a list that was taken away and made anew by another hand is not overwritten', () => {
  const gone = edit(START, 'gone', (draft) => {
    Reflect.deleteProperty(draft.things['a'], 'tags');
  });
  const anew = edit(gone.document, 'anew', (draft) => {
    draft.things['a'].tags = ['theirs'];
  });
  expect(undo(anew.document, gone.edit!)).toBeNull();
});
