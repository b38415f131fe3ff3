import type { Edited } from '@rondo/core/document';
import { choicesOf } from '@rondo/core/host';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { valueText } from '@rondo/core/host';
import {
  addFlag,
  addLayer,
  bindingsOnLayer,
  copyLayer,
  editFlag,
  editLayer,
  layerAlone,
  moveLayer,
  putLayer,
  removeFlag,
  removeLayer,
  swapLayers,
  usesOfFlag,
  type Action,
  type Profile,
} from '@rondo/core/profile';
import { pageIdsOf } from '@rondo/core/surface';
import { enterChoices } from '../round/state-choices';
import { Finder } from '../round/finder';
import { PanelHead } from './panel-head';
import { SendFields } from './send-fields';
import { Workbench } from '../workbench';
import { ActMenu, Choice, Share, Switch, TextField } from '../../../shared/ui/form';
import { InputText } from 'primeng/inputtext';
import { LARGEST_FILE, readFileText } from '@rondo/core/formats';
import { SaveAlone } from '../../../shared/ui/save-alone';
import { IncomingFile } from '../../../state/incoming-file';

const EVENTS = [
  { event: 'enter', label: 'On entering' },
  { event: 'leave', label: 'On leaving' },
] as const;

/** The layer that is looked at, and the flags. */
@Component({
  selector: 'rondo-layers-panel',
  imports: [
    ActMenu,
    Choice,
    Finder,
    InputText,
    PanelHead,
    SaveAlone,
    SendFields,
    Share,
    Switch,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './layers-panel.html',
  styleUrls: ['../../../shared/ui/panel.css', './layers-panel.css'],
})
export class LayersPanel {
  protected readonly bench = inject(Workbench);
  private readonly nameField = viewChild<ElementRef<HTMLInputElement>>('name');
  protected readonly finding = signal<'enter' | 'leave' | null>(null);
  private readonly incoming = inject(IncomingFile);
  /** What the layer that was read last has to say. */
  protected readonly says = signal('');
  protected readonly alone = () => {
    const profile = this.bench.profile();
    return Promise.resolve({
      layers: profile ? [layerAlone(profile, this.bench.layer())] : [],
    });
  };

  protected readonly layer = computed(() => {
    const profile = this.bench.profile();
    const id = this.bench.layer();
    const layer = profile?.layers[id];
    if (!profile || !layer) return null;
    const at = profile.layerOrder.indexOf(id);
    return {
      id,
      label: layer.label,
      group: layer.group ?? '',
      page: layer.page ? `${layer.page.surface} ${layer.page.page}` : '',
      first: at === 0,
      on: this.bench.on().has(id) || at === 0,
      canUp: at > 0 && at < profile.layerOrder.length - 1,
      canDown: at > 1,
      bound: bindingsOnLayer(profile, id),
    };
  });
  protected readonly others = computed(() => {
    const profile = this.bench.profile();
    return (profile?.layerOrder ?? [])
      .filter((id) => id !== this.bench.layer())
      .map((id) => ({ value: id, label: profile?.layers[id].label ?? id }));
  });
  /** Onboard pages of all surfaces that have several. */
  protected readonly pages = computed(() => {
    const profile = this.bench.profile();
    const pages = (profile?.surfaceOrder ?? []).flatMap((id) => {
      const surface = this.bench.surfaceOf(id);
      if (!surface || surface.pages.length === 0) return [];
      const labels = [surface.firstPage?.label ?? '1', ...surface.pages.map(({ label }) => label)];
      return pageIdsOf(surface).map((page, at) => ({
        value: `${id} ${page}`,
        label: `${labels[at]}, ${profile?.surfaces[id].label ?? id}`,
      }));
    });
    return [{ value: '', label: 'none' }, ...pages];
  });
  protected readonly events = computed(() => {
    const profile = this.bench.profile();
    const layer = profile?.layers[this.bench.layer()];
    if (!profile || !layer) return [];
    return EVENTS.map(({ event, label }) => ({
      event,
      label,
      rows: (layer[event] ?? []).map((action) => {
        const isFunction = action.do === 'function';
        const fn = isFunction
          ? this.bench.hostModel(action.host)?.functions.find(({ id }) => id === action.function)
          : undefined;
        const to = isFunction ? (action.to ?? 1) : 1;
        const choices = fn?.kind === 'toggle' ? ['Off', 'On'] : choicesOf(fn);
        return {
          name: this.bench.namesOf(profile).action(action),
          choices,
          to: choices || fn?.kind === 'continuous' ? to : null,
          text: fn ? valueText(fn, to) : '',
          send: action.do === 'send' ? action : null,
        };
      }),
    }));
  });
  protected readonly choices = computed(() => {
    const profile = this.bench.profile();
    return profile && this.finding() ? enterChoices(this.bench.namesOf(profile)) : [];
  });
  protected readonly flags = computed(() => {
    const profile = this.bench.profile();
    return (profile?.flagOrder ?? []).map((id) => ({
      id,
      label: profile?.flags[id].label ?? id,
      initially: profile?.flags[id].initially ?? false,
      uses: profile ? usesOfFlag(profile, id) : 0,
    }));
  });

  constructor() {
    // A layer that was given elsewhere and is meant for this profile.
    effect(() => {
      const id = this.bench.profile()?.id;
      if (this.incoming.part() && id !== undefined)
        untracked(() => {
          const part = this.incoming.takeFor('layer', id);
          if (part) this.put(part.layer);
        });
    });
  }

  protected rename(text: string): void {
    const label = text.trim();
    const id = this.bench.layer();
    if (label)
      this.bench.edit((p) =>
        editLayer(p, `Rename layer to ${label}`, id, (layer) => {
          layer.label = label;
        }),
      );
  }

  protected add(): void {
    this.make((profile) => addLayer(profile));
  }

  /** Reads the layers of a file on top of one's own; what has no place here is told. */
  protected async read(field: HTMLInputElement): Promise<void> {
    const file = field.files?.[0];
    field.value = '';
    if (!file) return;
    const read = file.size > LARGEST_FILE ? null : readFileText(await file.text());
    if (!read?.ok) {
      const why = read?.faults.at(0)?.message ?? 'is larger than 64 MB.';
      this.says.set(`“${file.name}” was not read: it ${why}`);
      return;
    }
    const layers = read.file.layers ?? [];
    if (layers.length === 0)
      this.says.set(
        `There is no layer in “${file.name}”. Profiles are read on the Profiles screen.`,
      );
    for (const layer of layers) this.put(layer);
  }

  private put(layer: Profile): void {
    let put = null as ReturnType<typeof putLayer> | null;
    this.bench.edit((profile) => (put = putLayer(profile, layer)));
    if (!put) return;
    const { document, id, left } = put;
    if (id === null) {
      this.says.set('A profile has 64 layers at most; this one is full.');
      return;
    }
    const { label } = document.layers[id];
    this.bench.chosenLayer.set(id);
    this.says.set(
      left === 0
        ? `Layer “${label}” is on top now.`
        : `Layer “${label}” is on top now. ${left === 1 ? 'One part of it has' : `${left} parts of it have`} no surface or host here and ${left === 1 ? 'was' : 'were'} left out.`,
    );
  }

  protected copy(): void {
    const from = this.bench.layer();
    this.make((profile) => copyLayer(profile, from));
  }

  /** Makes a layer: what is typed next is its name. */
  private make(how: (profile: Profile) => Edited<Profile> & { readonly id: string }): void {
    let id: string | null = null;
    this.bench.edit((profile) => {
      const made = how(profile);
      id = made.id;
      return made;
    });
    if (id !== null) this.show(id);
  }

  private show(id: string): void {
    this.bench.chosenLayer.set(id);
    const field = this.nameField()?.nativeElement;
    field?.focus();
    field?.select();
  }

  protected move(by: number): void {
    const id = this.bench.layer();
    this.bench.edit((profile) => moveLayer(profile, id, by));
  }

  protected swapWith(other: string): void {
    const id = this.bench.layer();
    this.bench.edit((profile) => swapLayers(profile, id, other));
  }

  protected remove(): void {
    const id = this.bench.layer();
    this.bench.edit((profile) => removeLayer(profile, id));
    this.bench.chosenLayer.set(null);
  }

  protected setGroup(text: string): void {
    const group = text.trim();
    this.bench.edit((profile) =>
      editLayer(profile, 'Group of the layer', this.bench.layer(), (layer) => {
        if (group) layer.group = group;
        else delete layer.group;
      }),
    );
  }

  protected setPage(key: string): void {
    const [surface, page] = key.split(' ');
    this.bench.edit((profile) =>
      editLayer(profile, 'Onboard page of the layer', this.bench.layer(), (layer) => {
        if (key) layer.page = { surface, page };
        else delete layer.page;
      }),
    );
  }

  protected push(event: 'enter' | 'leave', action: Action): void {
    this.finding.set(null);
    this.bench.edit((profile) =>
      editLayer(
        profile,
        event === 'enter' ? 'On entering' : 'On leaving',
        this.bench.layer(),
        (layer) => {
          type Actions = NonNullable<typeof layer.enter>;
          layer[event] = [...(layer[event] ?? []), action as Actions[number]];
        },
      ),
    );
  }

  protected drop(event: 'enter' | 'leave', at: number): void {
    this.bench.edit((profile) =>
      editLayer(profile, 'Remove an action', this.bench.layer(), (layer) => {
        layer[event]?.splice(at, 1);
      }),
    );
  }

  protected setTo(event: 'enter' | 'leave', at: number, to: number): void {
    this.bench.edit((profile) =>
      editLayer(profile, 'Value that is set', this.bench.layer(), (layer) => {
        const action = layer[event]?.[at];
        if (action?.do === 'function') action.to = to;
      }),
    );
  }

  protected setSend(event: 'enter' | 'leave', at: number, change: object): void {
    this.bench.edit((profile) =>
      editLayer(profile, 'Message', this.bench.layer(), (layer) => {
        const action = layer[event]?.[at];
        if (action?.do === 'send') Object.assign(action, change);
      }),
    );
  }

  protected newFlag(): void {
    this.bench.edit((profile) => addFlag(profile));
  }

  protected renameFlag(id: string, text: string): void {
    const label = text.trim();
    if (label)
      this.bench.edit((profile) =>
        editFlag(profile, `Rename flag to ${label}`, id, (flag) => {
          flag.label = label;
        }),
      );
  }

  protected setInitially(id: string, on: boolean): void {
    this.bench.edit((profile) =>
      editFlag(profile, 'Flag at first', id, (flag) => {
        flag.initially = on;
      }),
    );
  }

  protected dropFlag(id: string): void {
    this.bench.edit((profile) => removeFlag(profile, id));
  }
}
