import { Engine, RoundLog, type Plan } from '@rondo/core/round';
import type { Studio } from '@rondo/core/standin';

/*
 * What the sections ask of the core that earlier ones did otherwise: they are timed against these, too. Time comes in
 * the first place of a list: as an argument it would be put on the heap.
 */

/** A recorder for a plan. */
export const logFor = (plan: Plan): RoundLog =>
  'for' in RoundLog
    ? RoundLog.for(plan)
    : new (RoundLog as unknown as new (parts: number) => RoundLog)(plan.parts.length);

/** Earlier ones took the time with the bytes. */
const isTimeApart = 'at' in Engine.prototype;
type Timed = (...given: readonly unknown[]) => void;

/** Bytes come to the engine. */
type ToEngine = (
  engine: Engine,
  clock: Float64Array,
  link: number,
  bytes: Uint8Array,
  to: number,
) => void;
export const toEngine: ToEngine = isTimeApart
  ? (engine, clock, link, bytes, to) => engine.at(clock[0]).receive(link, bytes, 0, to)
  : (engine, clock, link, bytes, to) =>
      (engine as unknown as { receive: Timed }).receive(link, bytes, 0, to, clock[0]);

/** Bytes come to the simulated Studio. */
type ToStudio = (studio: Studio, clock: Float64Array, bytes: Uint8Array, to: number) => void;
export const toStudio: ToStudio = isTimeApart
  ? (studio, clock, bytes, to) => {
      studio.clock[0] = clock[0];
      studio.receive(bytes, 0, to);
    }
  : (studio, clock, bytes, to) =>
      (studio as unknown as { receive: Timed }).receive(bytes, 0, to, clock[0]);
