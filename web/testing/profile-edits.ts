import { edit, rename, type Edited } from '@rondo/core/document';
import { HOST_MODELS, STUDIO } from '@rondo/core/host';
import {
  LANDINGS,
  addBindingTo,
  addFlag,
  addHost,
  addLayer,
  addRoute,
  addShowing,
  addSurface,
  applySeries,
  bind,
  bringControlBack,
  changeRoute,
  copyLayer,
  copyToLayer,
  editBindings,
  editFlag,
  editLayer,
  editShowing,
  layerAlone,
  mendReferences,
  mirror,
  moveInstance,
  moveLayer,
  moveToLayer,
  nineFerriesMix,
  putLayer,
  removeBindings,
  removeFlag,
  removeHost,
  removeLayer,
  removeRoute,
  removeShowing,
  removeSurface,
  setBracket,
  setHostModel,
  setPair,
  setRoles,
  setStandsIn,
  setSurfaceModel,
  setUsual,
  swapControls,
  swapLayers,
  unbind,
  type Action,
  type ControlRef,
  type Profile,
} from '@rondo/core/profile';
import { propose, takeProposal } from '@rondo/core/propose';
import { HARROW_8, STOCK_SURFACES } from '@rondo/core/surface';

/** Chooses one of a list by a random number. */
export type Pick = <T>(list: readonly T[]) => T;
export type ProfileEdit = (profile: Profile, pick: Pick, n: number) => Edited<Profile>;

const START = nineFerriesMix();
const none = (document: Profile): Edited<Profile> => ({ document, edit: null });
/** Controls of the desk with something to press or move. */
const REFS = HARROW_8.controls
  .slice(0, 30)
  .flatMap((control) =>
    (['value', 'push'] as const)
      .filter((part) => control.sends[part])
      .map((part): ControlRef => ({ surface: 'desk', control: control.id, part })),
  );
const ACTIONS: readonly Action[] = [
  { do: 'bank', by: 8 },
  {
    do: 'function',
    behaviour: 'follow',
    host: 'studio',
    function: 'volume',
    scope: { kind: 'fixed', strip: 2 },
  },
  { do: 'rondo', command: 'panic' },
];
const TERMS = { kinds: ['note'] } as const;

/** An edit of one of what an order names; none where there is none. */
const ofOne =
  (
    order:
      | 'layerOrder'
      | 'flagOrder'
      | 'routeOrder'
      | 'bindingOrder'
      | 'showingOrder'
      | 'surfaceOrder'
      | 'hostOrder',
    does: (profile: Profile, id: string, pick: Pick, n: number) => Edited<Profile>,
  ): ProfileEdit =>
  (profile, pick, n) =>
    profile[order].length === 0 ? none(profile) : does(profile, pick(profile[order]), pick, n);
/** Some of the bindings. */
const some = (profile: Profile, pick: Pick): string[] => {
  const at = profile.bindingOrder.indexOf(pick(profile.bindingOrder));
  return profile.bindingOrder.slice(at, at + 5);
};

/** Every kind of edit that the page makes of a profile, by the name of the function that makes it. */
export const PROFILE_EDITS: Readonly<Record<string, ProfileEdit>> = {
  rename: (profile, _, n) => rename(profile, `Name ${n}`),
  // What is written in place on the screens: fields, lists and objects of any shape.
  edit: (profile, pick, n) =>
    edit(profile, `In place ${n}`, (draft) => {
      const how = n % 4;
      if (how === 0) draft.returns = { motor: n % 3 === 0 ? 'off' : 'on' } as never;
      else if (how === 1) Reflect.deleteProperty(draft, 'returns');
      else if (how === 2)
        draft.focusOrders = { studio: { Reverb: pick([['Size', 'Mix'], ['Mix'], []]) } };
      else draft.bindingOrder.push(...draft.bindingOrder.splice(0, 3));
    }),
  bind: (profile, pick) =>
    bind(profile, 'Bind', pick(REFS), pick(ACTIONS), {}, pick(['replace', 'add', 'swap'])),
  unbind: (profile, pick) => unbind(profile, 'Unbind', pick(REFS)),
  editBindings: (profile, pick, n) =>
    editBindings(profile, 'Edit', some(profile, pick), (binding) => {
      if (n % 3 === 0) binding.passOn = true;
      else if (n % 3 === 1) binding.feel = { takeover: 'pickup' } as never;
      else binding.actions.push({ do: 'bank', by: n });
    }),
  removeBindings: (profile, pick) => removeBindings(profile, 'Remove', some(profile, pick)),
  addBindingTo: (profile, pick, n) =>
    addBindingTo(profile, 'When', {
      layer: profile.layerOrder[0],
      cause: {
        host: 'studio',
        function: 'play',
        scope: { kind: 'only' },
        when: pick(['on', 'off', 'change']),
      } as never,
      actions: [{ do: 'bank', by: n + 1 }],
    }),
  copyToLayer: ofOne('layerOrder', (profile, layer, pick) =>
    copyToLayer(profile, 'Copy', some(profile, pick), layer, pick(LANDINGS)),
  ),
  moveToLayer: ofOne('layerOrder', (profile, layer, pick) =>
    moveToLayer(profile, 'Move', some(profile, pick), layer, pick(LANDINGS)),
  ),
  swapControls: (profile, pick) => swapControls(profile, 'Swap', pick(REFS), pick(REFS)),
  bringControlBack: (profile, pick) =>
    bringControlBack(profile, START, { surface: 'desk', control: pick(REFS).control }, 'As it was'),
  applySeries: ofOne('bindingOrder', (profile, id, pick) =>
    applySeries(
      profile,
      'Series',
      id,
      REFS.slice(0, 4).map((control) => ({
        control,
        label: '',
        actions: pick([[pick(ACTIONS)], null]),
        taken: false,
      })),
    ),
  ),
  mirror: (profile, pick) =>
    Object.hasOwn(profile.surfaces, 'desk')
      ? mirror(profile, 'Mirror', HARROW_8, {
          surface: 'desk',
          from: pick(['left', 'right']),
          strips: null,
          keep: pick([true, false]),
        })
      : none(profile),
  addLayer: (profile) => addLayer(profile),
  copyLayer: ofOne('layerOrder', copyLayer),
  moveLayer: ofOne('layerOrder', (profile, id, pick) => moveLayer(profile, id, pick([-1, 1]))),
  removeLayer: ofOne('layerOrder', removeLayer),
  swapLayers: ofOne('layerOrder', (profile, a, pick) =>
    swapLayers(profile, a, pick(profile.layerOrder)),
  ),
  editLayer: ofOne('layerOrder', (profile, id, _, n) =>
    editLayer(profile, 'Layer', id, (layer) => {
      if (n % 2) layer.label = `Layer ${n}`;
      else layer.group = `Group ${n % 3}`;
    }),
  ),
  putLayer: (profile, pick) => putLayer(profile, layerAlone(START, pick(START.layerOrder))),
  addFlag: (profile) => addFlag(profile),
  editFlag: ofOne('flagOrder', (profile, id, _, n) =>
    editFlag(profile, 'Flag', id, (flag) => void (flag.label = `Flag ${n}`)),
  ),
  removeFlag: ofOne('flagOrder', removeFlag),
  addShowing: (profile, pick) =>
    addShowing(profile, 'Shown elsewhere', {
      layer: profile.layerOrder[0],
      shows: { layer: profile.layerOrder[0] },
      on: [{ surface: 'desk', control: pick(REFS).control, part: 'light' }],
      spread: 'same',
    }),
  editShowing: ofOne('showingOrder', (profile, id, pick) =>
    editShowing(profile, 'Spread', id, (one) => void (one.spread = pick(['same', 'row']))),
  ),
  removeShowing: ofOne('showingOrder', (profile, id) => removeShowing(profile, 'Gone', id)),
  addRoute: ofOne('surfaceOrder', (profile, surface, pick) =>
    profile.hostOrder.length === 0
      ? none(profile)
      : addRoute(
          profile,
          { surface },
          { host: pick(profile.hostOrder) },
          { kinds: [...TERMS.kinds] },
        ),
  ),
  changeRoute: ofOne('routeOrder', (profile, id, pick) =>
    changeRoute(profile, id, { transpose: pick([-12, 12, undefined]) }),
  ),
  removeRoute: ofOne('routeOrder', removeRoute),
  addSurface: (profile) => addSurface(profile, 'cobble-64', 'Pads'),
  removeSurface: ofOne('surfaceOrder', removeSurface),
  setSurfaceModel: ofOne('surfaceOrder', (profile, id, pick) =>
    setSurfaceModel(profile, id, pick([...STOCK_SURFACES.keys()])),
  ),
  setRoles: ofOne('surfaceOrder', (profile, id, pick) =>
    setRoles(profile, id, { notes: [], clock: pick([true, false]) }),
  ),
  setBracket: ofOne('surfaceOrder', (profile, id, _, n) =>
    setBracket(profile, id, { mark: `M${n % 9}` }),
  ),
  setStandsIn: ofOne('surfaceOrder', (profile, id, pick) =>
    setStandsIn(profile, id, pick([null, { host: 'studio', pairs: [] }])),
  ),
  setPair: ofOne('surfaceOrder', (profile, id, pick) =>
    profile.surfaces[id].standsIn
      ? setPair(profile, id, { for: 'fader-1', unit: 0 }, pick([null, pick(REFS).control]))
      : none(profile),
  ),
  addHost: (profile) => addHost(profile, 'booth', 'Booth'),
  removeHost: ofOne('hostOrder', removeHost),
  setHostModel: ofOne('hostOrder', (profile, id, pick) =>
    setHostModel(profile, id, pick(['studio', 'booth', 'placard'])),
  ),
  setUsual: ofOne('layerOrder', (profile, layer, pick) =>
    setUsual(profile, { layer }, 'studio', pick([null, { kind: 'fixed', strip: 3 }])),
  ),
  moveInstance: ofOne('layerOrder', (profile, layer) =>
    moveInstance(
      profile,
      { layer },
      'studio',
      { kind: 'fixed', strip: 2 },
      { kind: 'fixed', strip: 5 },
      STUDIO,
    ),
  ),
  mendReferences: (profile, pick) => mendReferences(profile, some(profile, pick)),
  takeProposal: (profile) => {
    const surfaces = profile.surfaceOrder.flatMap((id) => {
      const surface = STOCK_SURFACES.get(profile.surfaces[id].model);
      return surface ? [{ id, surface }] : [];
    });
    const hosts = profile.hostOrder.flatMap((id) => {
      const model = HOST_MODELS.get(profile.hosts[id].model);
      return model ? [{ id, model }] : [];
    });
    const proposal = propose(profile, surfaces, hosts);
    return takeProposal(profile, proposal, new Set(proposal.parts.map(({ purpose }) => purpose)));
  },
};
