import { HOST_MODELS, LAWS, STUDIO, type HostFunction, type HostModel } from '@rondo/core/host';
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

/** A value as people say it. */
export function valueText(fn: HostFunction, value: number): string {
  return LAWS[fn.law].format(value);
}

/** Short words for a tape under a control. */
export function tapeText(profile: Profile, action: Action, bank: number): string {
  if (action.do === 'bank') return `${action.by < 0 ? '◂' : '▸'} ${Math.abs(action.by)}`;
  const model = modelOf(profile, action.host) ?? STUDIO;
  if (action.scope.kind === 'host')
    return model.functions.find((f) => f.id === action.function)?.label ?? action.function;
  const strip = action.scope.kind === 'fixed' ? action.scope.strip : bank + action.scope.offset;
  return stripName(model, strip);
}
