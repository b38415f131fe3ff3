import type { Action, Profile } from '@rondo/core/profile';

/** Whether doing it twice is the same as doing it once. */
export function setsAState(action: Action): boolean {
  switch (action.do) {
    case 'function':
      return action.behaviour === 'set';
    case 'layer':
    case 'flag':
      return action.how === 'on' || action.how === 'off';
    case 'send':
      return action.message !== undefined;
    default:
      return false;
  }
}

/** Actions by which entering or leaving layers would come round to where it began. */
export function circlesOf({ layers, layerOrder }: Profile): Set<Action> {
  const found = new Set<Action>();
  const done = new Set<string>();
  const open = new Set<string>();
  const visit = (id: string, event: 'enter' | 'leave'): void => {
    const node = `${event} ${id}`;
    if (done.has(node)) return;
    open.add(node);
    for (const action of layers[id][event] ?? []) {
      const next: [string, 'enter' | 'leave'][] = [];
      const enter = (to: string) => {
        next.push([to, 'enter']);
        const { group } = layers[to];
        if (group !== undefined)
          for (const other of layerOrder)
            if (other !== to && layers[other].group === group) next.push([other, 'leave']);
      };
      if (action.do === 'layer' && Object.hasOwn(layers, action.layer)) {
        if (action.how === 'off') next.push([action.layer, 'leave']);
        else enter(action.layer);
      } else if (action.do === 'layerStep')
        for (const other of layerOrder) if (layers[other].group === action.group) enter(other);
      for (const [to, what] of next) {
        if (open.has(`${what} ${to}`)) found.add(action);
        else visit(to, what);
      }
    }
    open.delete(node);
    done.add(node);
  };
  for (const id of layerOrder) {
    visit(id, 'enter');
    visit(id, 'leave');
  }
  return found;
}
