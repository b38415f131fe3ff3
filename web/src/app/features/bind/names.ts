import { choicesOf } from '@rondo/core/host';
import type { HostModel } from '@rondo/core/host';
import type {
  Action,
  Cause,
  Condition,
  Destination,
  Gesture,
  Profile,
  Scope,
  RondoCommand,
} from '@rondo/core/profile';
import type { Library } from '@rondo/core/round';
import type { Surface } from '@rondo/core/surface';
import { noteName } from '@rondo/core/wire';

const labelIn = (
  entries: Readonly<Record<string, { readonly label: string }>>,
  id: string,
): string => (Object.hasOwn(entries, id) ? entries[id].label : `${id} (gone)`);

/** What Rondo itself does, in a few words, and in one for a key. */
const RONDO_WORDS: Readonly<
  Record<RondoCommand, { readonly name: string; readonly short: string }>
> = {
  repaint: { name: 'Repaint everything', short: 'Repaint' },
  panic: { name: 'Panic: release all that is held', short: 'Panic' },
  holdOff: { name: 'Hold off on or off', short: 'Hold off' },
  askHosts: { name: 'Ask every host for its full state', short: 'Ask' },
};

function howName(label: string, how: 'hold' | 'toggle' | 'on' | 'off'): string {
  switch (how) {
    case 'hold':
      return `${label} while held`;
    case 'toggle':
      return `${label} on or off`;
    default:
      return `${label} ${how}`;
  }
}

function destinationName(profile: Profile, to: Destination): string {
  return 'host' in to
    ? labelIn(profile.hosts, to.host as string)
    : labelIn(profile.surfaces, to.surface as string);
}

export function bankName(by: number): string {
  const strips = Math.abs(by) === 1 ? 'one strip' : `${Math.abs(by)} strips`;
  return `Bank ${by < 0 ? 'left' : 'right'} by ${strips}`;
}

export function stripName(model: HostModel | undefined, strip: number): string {
  return model?.strips[strip]?.name ?? `strip ${strip + 1}`;
}

/** What is said of one instance of a host’s functions: its strip, or what is selected. */
export const instanceName = (model: HostModel | undefined, scope: Scope): string =>
  scope.kind === 'fixed' ? stripName(model, scope.strip) : (model?.selectedWord ?? 'selected');

/** How a function changes that is a cause, at that function. */
export const CAUSE_WORDS: Readonly<Record<Cause['when'], string>> = {
  on: 'Coming on',
  off: 'Going off',
  change: 'Each change',
};

export const GESTURE_WORDS: Readonly<Record<Gesture, string>> = {
  press: 'Press',
  release: 'Release',
  longPress: 'Long press',
  doubleTap: 'Double tap',
};

/** Functions that go without saying: a tape under them names the strip. */
const PLAIN = new Set(['volume', 'pan', 'mute', 'solo', 'arm', 'select', 'fader', 'gain']);

/** What a profile does, in words: its own, and those of what it refers to. */
export class Names {
  constructor(
    readonly profile: Profile,
    private readonly library: Library,
  ) {}

  /** The model of a host. */
  model(hostId: string): HostModel | undefined {
    return Object.hasOwn(this.profile.hosts, hostId)
      ? this.library.host(this.profile.hosts[hostId].model)
      : undefined;
  }

  /** The description of a surface. */
  surface(id: string): Surface | undefined {
    return this.library.surface(this.profile.surfaces[id].model);
  }

  /** A function of a host with its scope, in a few words: “Volume, strip 3 of the bank”. */
  target(target: {
    readonly host: string;
    readonly function: string;
    readonly scope: Scope;
  }): string {
    const { scope } = target;
    const model = this.model(target.host);
    const fn = model?.functions.find((f) => f.id === target.function);
    const what = fn?.label ?? target.function;
    switch (scope.kind) {
      case 'host':
        return what;
      case 'selected':
        return `${what}, ${model?.selectedWord ?? 'selected'}`;
      case 'window':
        return `${what}, strip ${scope.offset + 1} of the bank`;
      case 'focus':
        return `Parameter ${scope.slot + 1} of the plug-in in focus`;
      case 'fixed':
        return `${what}, ${stripName(model, scope.strip)}`;
    }
  }

  /** What an action has in common with those beside it, whichever strip or slot each works on. */
  row(action: Action): string {
    if (action.do !== 'function') return this.action(action);
    const { scope } = action;
    if (scope.kind === 'focus') return 'Parameters of the plug-in in focus';
    return this.target(scope.kind === 'selected' ? action : { ...action, scope: { kind: 'host' } });
  }

  /** What an action does, in a few words. */
  action(action: Action): string {
    switch (action.do) {
      case 'function': {
        const isBack = action.behaviour === 'step' && (action.by ?? 1) < 0;
        return this.target(action) + (isBack ? ', back' : '');
      }
      case 'bank':
        return bankName(action.by);
      case 'layer': {
        const label = labelIn(this.profile.layers, action.layer);
        return howName(label, action.how);
      }
      case 'layerStep':
        return `${action.by > 0 ? 'Next' : 'Previous'} of ${action.group}`;
      case 'flag': {
        return howName(`Flag ${labelIn(this.profile.flags, action.flag)}`, action.how);
      }
      case 'send':
        if (action.text !== undefined)
          return `Text “${action.text}” to ${destinationName(this.profile, action.to)}`;
        return `Send ${action.message ?? 'what comes in'} to ${destinationName(this.profile, action.to)}`;
      case 'notes':
        return `Play ${action.notes.map((note) => noteName(note)).join(' ')} on ${destinationName(this.profile, action.to)}`;
      case 'focusPage':
        return `${action.by > 0 ? 'Next' : 'Previous'} page of parameters`;
      case 'setUp':
        return `Set-up “${action.name}”`;
      case 'rondo':
        return RONDO_WORDS[action.command].name;
    }
  }

  /** A condition, in a few words. */
  condition(condition: Condition): string {
    if ('flag' in condition)
      return `${labelIn(this.profile.flags, condition.flag as string)} is ${condition.is}`;
    if ('layer' in condition)
      return `${labelIn(this.profile.layers, condition.layer as string)} is ${condition.is}`;
    const name = this.target(condition);
    const share = Math.round((condition.value ?? 0.5) * 100);
    return condition.is === 'on' || condition.is === 'off'
      ? `${name} is ${condition.is}`
      : `${name} is ${condition.is === 'below' ? 'below' : 'at least'} ${share} %`;
  }

  /** A change of a host that is a cause, in a few words. */
  cause(cause: Cause): string {
    const how = { on: 'comes on', off: 'goes off', change: 'changes' }[cause.when];
    return `${this.target(cause)} ${how}`;
  }

  /** Short words for a tape under a control. */
  tape(action: Action, bank: number): string {
    switch (action.do) {
      case 'bank':
        return `${action.by < 0 ? '◂' : '▸'} ${Math.abs(action.by)}`;
      case 'layer':
        return labelIn(this.profile.layers, action.layer);
      case 'layerStep':
        return `${action.group} ${action.by > 0 ? '▸' : '◂'}`;
      case 'flag':
        return labelIn(this.profile.flags, action.flag);
      case 'send':
        return 'Send';
      case 'notes':
        return action.notes.map((note) => noteName(note)).join(' ');
      case 'focusPage':
        return `Page ${action.by > 0 ? '▸' : '◂'}`;
      case 'setUp':
        return action.name;
      case 'rondo':
        return RONDO_WORDS[action.command].short;
      case 'function':
        break;
    }
    const model = this.model(action.host);
    const { scope } = action;
    if (scope.kind === 'focus') return `Par. ${scope.slot + 1}`;
    const fn = model?.functions.find((f) => f.id === action.function);
    const label = fn?.label ?? action.function;
    // The program names its strips itself, by what it shows in them.
    if (model?.expects && scope.kind === 'fixed') return `${label} ${scope.strip + 1}`;
    if (scope.kind === 'host' || !PLAIN.has(action.function)) {
      // What is started and waits for its time is called by its name: no press sets one of its states.
      const chosen = action.behaviour === 'set' && fn?.waits === undefined && choicesOf(fn);
      return chosen ? chosen[Math.round((action.to ?? 1) * (chosen.length - 1))] : label;
    }
    if (scope.kind === 'selected') return `${label}, selected`;
    return stripName(model, scope.kind === 'fixed' ? scope.strip : bank + scope.offset);
  }
}
