import { HOST_MODELS, type HostModel } from '@rondo/core/host';
import type { Action, Profile } from '@rondo/core/profile';

/** The model of a host of a profile. */
export function modelOf(profile: Profile, hostId: string): HostModel | undefined {
  return Object.hasOwn(profile.hosts, hostId)
    ? HOST_MODELS.get(profile.hosts[hostId].model)
    : undefined;
}

/** What an action does, in a few words: “Volume, strip 3 of the bank”. */
export function actionName(profile: Profile, action: Action): string {
  if (action.do === 'bank') return bankName(action.by);
  const fn = modelOf(profile, action.host)?.functions.find((f) => f.id === action.function);
  const what = fn?.label ?? action.function;
  switch (action.scope.kind) {
    case 'host':
      return what;
    case 'selected':
      return `${what}, ${modelOf(profile, action.host)?.selectedWord ?? 'selected'}`;
    case 'window':
      return `${what}, strip ${action.scope.offset + 1} of the bank`;
    case 'fixed':
      return `${what}, ${stripName(modelOf(profile, action.host), action.scope.strip)}`;
  }
}

export function bankName(by: number): string {
  const strips = Math.abs(by) === 1 ? 'one strip' : `${Math.abs(by)} strips`;
  return `Bank ${by < 0 ? 'left' : 'right'} by ${strips}`;
}

export function stripName(model: HostModel | undefined, strip: number): string {
  return model?.strips[strip]?.name ?? `strip ${strip + 1}`;
}

/** Functions that go without saying: a tape under them names the strip. */
const PLAIN = new Set(['volume', 'pan', 'mute', 'solo', 'arm', 'select', 'fader', 'gain']);

/** Short words for a tape under a control. */
export function tapeText(profile: Profile, action: Action, bank: number): string {
  if (action.do === 'bank') return `${action.by < 0 ? '◂' : '▸'} ${Math.abs(action.by)}`;
  const model = modelOf(profile, action.host);
  const { scope } = action;
  const label = model?.functions.find((f) => f.id === action.function)?.label ?? action.function;
  if (scope.kind === 'host') return label;
  if (!PLAIN.has(action.function)) return label;
  if (scope.kind === 'selected') return `${label}, selected`;
  return stripName(model, scope.kind === 'fixed' ? scope.strip : bank + scope.offset);
}
