import { nineFerriesMix } from '@rondo/core/profile';
import { Engine, RoundLog, compile } from '../index.js';
import { stockLibrary } from '../../testing/random-room.js';

/**
 * What follows from the plan and the state, or lives within one call, by class: worked out anew under each plan. A field
 * that is neither here nor in the table of live state, nor a service, is one that an edit would forget.
 */
const DERIVED: Readonly<Record<string, readonly string[]>> = {
  OutputTargets: [
    'hooks',
    'motorGaps',
    'motorWaits',
    'resolved',
    'shapers',
    'showing',
    'stale',
    'striplessOuts',
  ],
  Beliefs: ['deadline'],
  Causes: ['first', 'next', 'when', 'running'],
  DueOuts: ['due', 'firstDue'],
  Fingers: ['deadline'],
  Gestures: ['deadline'],
  Hearing: ['first', 'isSurface', 'musicalNotes', 'paged'],
  Lights: ['due', 'value'],
  Matcher: ['focusFirst', 'truth'],
  MessagesOut: ['scratch', 'textRules'],
  Meters: ['level'],
  Motors: ['place', 'there'],
  PassOn: ['routes'],
  Refresh: ['outCount'],
  Rendering: ['beside', 'fitting', 'seen'],
  Round: ['targetsStale', 'conditionsStale', 'renders', 'writes'],
  Sight: ['count'],
  Subscriptions: ['firstHook', 'hookSlot', 'nextHook'],
  Takeovers: ['how', 'register', 'tolerance'],
  Telling: ['beside', 'scratch'],
  // Only within a call.
  Hands: ['acting'],
  TextFields: ['after', 'before'],
  Wants: ['meant'],
};

/** What outlives plans: it refers to none, or by keys only. */
const LASTING: Readonly<Record<string, readonly string[]>> = {
  ActionContext: ['releasing', 'sysex', 'firstHalf', 'packed', 'sysexFrom', 'sysexTo'],
  BankWindow: ['cameFrom', 'cameBy', 'start', 'strips', 'width'],
  Beat: ['inBar', 'newest', 'resumes', 'runs', 'times', 'count', 'position'],
  CableCheck: ['deadline', 'movedAt', 'watchEnd', 'asked', 'askedAt', 'back', 'changes', 'moves'],
  CableWatch: ['unseen'],
  Engine: [
    'choosing',
    // Emptied before a call returns.
    'asked',
    // Said anew by every call that goes on to a time.
    'until',
    'holdOff',
    'motorsFree',
    'clamped',
    'heldVersion',
    'sessionVersion',
    'textVersion',
  ],
  Greeting: ['deadline', 'serials', 'waits'],
  LookCache: ['known', 'numbers', 'rules'],
  Notices: ['all', 'version'],
  SetUpWishes: ['askedAt', 'last', 'version'],
  RoundLog: [
    'at',
    'binding',
    'gap',
    'packed',
    'recorded',
    'shaped',
    'slot',
    'stop',
    'stopSlot',
    'turned',
    'value',
  ],
};

/** A bundler writes `_Name` where a class names itself. */
const classOf = (thing: object): string => thing.constructor.name.replace(/^_/, '');

test('every field of the round is live state in the table, or marked as derived', () => {
  const plan = compile(nineFerriesMix(), stockLibrary);
  const engine = new Engine(plan, () => undefined);
  engine.log = RoundLog.for(plan);
  const kept = new Set<unknown>(Object.values(engine.round.state));
  for (const things of Object.values(engine.round.state))
    if (Array.isArray(things))
      for (const one of things) if (one !== null && typeof one === 'object') kept.add(one);
  const given = new Set<unknown>([
    plan,
    ...Object.values(plan),
    ...Object.values(plan.tables),
    plan.tables,
  ]);
  const { round } = engine;
  for (const shared of [
    engine.clock,
    engine.agenda,
    Reflect.get(engine, 'until') as unknown,
    engine.context.register,
    round.state,
    round.senders,
    round.outboxes,
    round.decoders,
    round.inputs,
    round.pages,
  ])
    given.add(shared);
  const seen = new Set<object>();
  const unknown: string[] = [];
  const isOurs = (value: object) =>
    /^class /.test(String(value.constructor)) &&
    !ArrayBuffer.isView(value) &&
    !(value instanceof Map) &&
    !(value instanceof Set) &&
    !(value instanceof WeakMap);
  const walk = (thing: object) => {
    if (seen.has(thing) || given.has(thing)) return;
    seen.add(thing);
    const name = classOf(thing);
    for (const [field, value] of Object.entries(thing)) {
      const known =
        value !== null && typeof value === 'object' && (kept.has(value) || given.has(value));
      if (typeof value === 'function' || known) continue;
      if (DERIVED[name]?.includes(field) || LASTING[name]?.includes(field)) continue;
      if (value !== null && typeof value === 'object' && isOurs(value)) walk(value);
      else unknown.push(`${name}.${field}`);
    }
  };
  walk(engine);
  expect(unknown).toEqual([]);
  // What is listed and gone would hide the next one of that name.
  const listed = Object.entries({ ...DERIVED, ...LASTING }).flatMap(([name, fields]) =>
    fields.map((field) => `${name}.${field}`),
  );
  const there = new Set(
    [...seen].flatMap((thing) => Object.keys(thing).map((field) => `${classOf(thing)}.${field}`)),
  );
  expect(listed.filter((field) => !there.has(field))).toEqual([]);
});
