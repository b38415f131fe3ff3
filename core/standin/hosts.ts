import { BOOTH, STUDIO, type HostModel } from '@rondo/core/host';
import { Booth } from './booth.js';
import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import { DeskProgram } from './desk-program.js';
import type { EmitUnit, SimulatedProgram } from './host.js';
import { PlainHost } from './plain-host.js';
import { Studio } from './studio.js';

/** What stands in for a program: the Studio and the Booth as they are, for any other one that does what it is told. */
export function simulationOf(
  model: HostModel,
  emit: EmitUnit,
  habits: Habits = PLAIN_HABITS,
): SimulatedProgram {
  const alone = (bytes: Uint8Array, from: number, to: number) => emit(0, bytes, from, to);
  if (model.id === STUDIO.id) return new Studio(alone, habits);
  if (model.id === BOOTH.id) return new Booth(alone, habits);
  return model.desk ? new DeskProgram(model, emit) : new PlainHost(model, alone, habits);
}
