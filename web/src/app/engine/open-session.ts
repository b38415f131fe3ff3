import { signal } from '@angular/core';
import type { SessionState } from '@rondo/core/round';
import { SIMULATED, type PortChoice } from './port-choice';
import { readSession, writeSession, type Session } from './stored-session';

/** How the profile that is open is played: ports, layers, flags and bank. Each change is kept for the next time. */
export class OpenSession {
  private profile = '';
  /** What was chosen for links, by key. */
  readonly ports = signal<Readonly<Record<string, PortChoice>>>({});
  /** Layers and flags that are on, as the engine tells whenever they change. */
  readonly state = signal<SessionState>({ layers: [], flags: {} });
  /** First strip of the bank, from 0. */
  private readonly start = signal(0);

  get bank(): number {
    return this.start();
  }

  /** All of it, as it is played now. */
  now(): Session {
    const { layers, flags } = this.state();
    return {
      bank: this.start(),
      ports: { ...this.ports() },
      layers: [...layers],
      flags: { ...flags },
    };
  }

  /** As another window plays it, which keeps it as well: here it is only shown. */
  show(session: Session): void {
    this.put(session);
  }

  /** Goes over to a profile, as it was played last. */
  open(profile: string): void {
    this.profile = profile;
    this.put(readSession(profile));
  }

  /** Plays the open profile in another way. */
  put({ bank, ports, layers, flags }: Session): void {
    this.ports.set(ports);
    this.state.set({ layers, flags });
    this.start.set(bank);
  }

  choiceOf(link: string): PortChoice {
    return this.ports()[link] ?? SIMULATED;
  }

  keepChoice(link: string, choice: PortChoice): void {
    this.ports.update((all) => ({ ...all, [link]: choice }));
    this.write();
  }

  keepState(state: SessionState): void {
    this.state.set(state);
    this.write();
  }

  keepBank(bank: number): void {
    if (bank === this.start()) return;
    this.start.set(bank);
    this.write();
  }

  private write(): void {
    writeSession(this.profile, this.now());
  }
}
