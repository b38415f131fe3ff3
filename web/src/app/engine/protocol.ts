import type { Profile } from '@rondo/core/profile';
import type { MotorTest, Notice, PlainPlan, RouteTraffic, SessionState } from '@rondo/core/round';
import type { MiddleC, NetChoice, NetNews, NetStanding } from '@rondo/core/wire';
import type { ToEngine } from '../../midi/protocol';
import type { Own } from './library';

/** What a hand does to a control of the drawing. `value` is a position 0…1, 1 or 0, ticks, a pressure 0…1, or a page. */
export interface Hand {
  readonly link: string;
  readonly control: string;
  readonly does: 'touch' | 'move' | 'press' | 'turn' | 'squeeze' | 'page';
  readonly value: number;
}

/** From the page to the engine's worker. Links are named by key. */
export type ToWorker =
  | { kind: 'profile'; version: number; profile: Profile; own: Own }
  /** Says what a profile is compiled to and does not play it: for a window whose engine is in another one. */
  | { kind: 'describe'; version: number; profile: Profile; own: Own }
  | ({ kind: 'hand' } & Hand)
  | { kind: 'host'; link: string; address: string; value: number }
  /** The octave that note 60 is written with. */
  | { kind: 'middleC'; octave: MiddleC }
  | { kind: 'holdOff'; on: boolean }
  /** Nothing that is touched acts, as while a control is being chosen. */
  | { kind: 'choosing'; on: boolean }
  | { kind: 'layer'; id: string; on: boolean }
  | { kind: 'flag'; id: string; on: boolean }
  /** Layers and flags as they were in an earlier session. */
  | { kind: 'session'; state: SessionState }
  /** A state of a host is played at, as lights show it; null ends that. */
  | { kind: 'play'; key: string; value: number | null }
  /** The light of a control is sent a number; below 0 it shows its own again. */
  | { kind: 'tryLight'; link: string; control: string; wire: number }
  | { kind: 'tryMotors'; link: string; test: MotorTest | null }
  /** Asks a host to send everything again. */
  | { kind: 'askAgain'; link: string }
  /** Whether a cable hears itself; whether a program follows a device of its own accord. */
  | { kind: 'checkCable'; link: string }
  | { kind: 'checkTwice'; link: string }
  | { kind: 'panic' }
  | { kind: 'repaint' }
  | { kind: 'bank'; by: number }
  | { kind: 'bankAt'; start: number }
  /** Real ports in place of the simulation, by their ids; null where there is none or it is not open. */
  | { kind: 'ports'; link: string; real: boolean; input: string | null; output: string | null }
  /** Where an OSC link listens and sends to in place of its simulation; null for the simulation. */
  | { kind: 'net'; link: string; choice: NetChoice | null }
  /** Shows the page what comes on OSC links; with a port also what comes there, as link {@link LISTENING}. */
  | { kind: 'watch net'; on: boolean; choice: NetChoice | null }
  /** Whether surfaces may be shown on glass. */
  | { kind: 'glass'; on: boolean }
  /** What has gone along each route is asked; {@link FromWorker} `routes` answers. */
  | { kind: 'ask routes' }
  /** The other end of the port that comes along is the holder of the real ports. */
  | { kind: 'join ports' }
  /** Fill this buffer with a frame and send it back. */
  | { kind: 'frame'; buffer: ArrayBuffer }
  /** What comes from the real ports comes past the page. */
  | ToEngine;

/** From the engine's worker to the page. */
export type FromWorker =
  /** A profile has been compiled, and plays now where it was not only to be described. Frames of its version follow. */
  | { kind: 'plan'; version: number; plan: PlainPlan }
  | { kind: 'frame'; buffer: ArrayBuffer }
  | { kind: 'texts'; displays: string[]; slots: string[] }
  /** Tempo of the clock that is followed, beats a minute; null while none comes. */
  | { kind: 'tempo'; tempo: number | null }
  /** Layers and flags have changed. */
  | { kind: 'session'; state: SessionState }
  /** Nothing reaches a host, or all does again: a control may have said so. */
  | { kind: 'held off'; on: boolean }
  /** What has happened on links, for their owner to know: all of it, whenever it changes. */
  | { kind: 'notices'; list: Notice[] }
  | { kind: 'routes'; list: readonly RouteTraffic[] }
  /** A control has asked for a set-up. */
  | { kind: 'set up'; id: string }
  /** How OSC links stand, and what was refused there. */
  | { kind: 'net standing'; standing: readonly NetStanding[] }
  | { kind: 'net news'; news: readonly NetNews[] }
  /** An OSC message that has come, while the page watches; `at` in ms since the Unix epoch. */
  | { kind: 'osc'; link: string; bytes: Uint8Array; at: number };

/** The link that stands for a port which the page listens on by itself. */
export const LISTENING = 'page:osc';
