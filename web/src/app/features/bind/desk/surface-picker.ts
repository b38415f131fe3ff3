import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import { HOST_MODELS, expectedBy, expectingId } from '@rondo/core/host';
import {
  BRACKET_COLOURS,
  BRACKET_PATTERNS,
  addHost,
  addSurface,
  bindingsOn,
  bracketOf,
  removeHost,
  removeSurface,
  setBracket,
  setHostModel,
  type Bracket,
  type Profile,
} from '@rondo/core/profile';
import { HARROW_8_SIDE, STOCK_SURFACES } from '@rondo/core/surface';
import { listActions } from '../../../state/actions';
import { DocumentEditor } from '../../../state/documents';
import { LibraryService } from '../../../state/library';
import { selectListOf } from '../../../state/list';
import { Choice, TextField, type Option } from '../../../shared/ui/form';
import { OwnCopy } from '../own-copy';
import { StandIns } from '../stand-ins';

/** A word as something to choose. */
const asOption = <T extends string>(value: T): Option<T> => ({
  value,
  label: value[0].toUpperCase() + value.slice(1),
});

/** The surfaces and hosts of a profile: add one, take one out. */
@Component({
  selector: 'rondo-surface-picker',
  imports: [Button, Choice, FormsModule, InputText, RouterLink, Select, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './surface-picker.html',
  styleUrl: './surface-picker.css',
})
export class SurfacePicker {
  readonly profile = input.required<Profile>();
  /** Something has been opened elsewhere. */
  readonly left = output();
  protected readonly copies = inject(OwnCopy);
  private readonly editor = inject(DocumentEditor);
  private readonly store = inject(Store);
  private readonly library = inject(LibraryService);
  private readonly standIns = inject(StandIns);
  private readonly list = this.store.selectSignal(selectListOf.surface);
  private readonly hostList = this.store.selectSignal(selectListOf.host);

  /** The surface of which it is chosen how it is marked; '' for none. */
  protected readonly marking = signal('');
  protected readonly colours = BRACKET_COLOURS.map(asOption);
  protected readonly patterns = BRACKET_PATTERNS.map(asOption);

  protected readonly here = computed(() => {
    const profile = this.profile();
    return profile.surfaceOrder.map((id) => ({
      ...profile.surfaces[id],
      bound: bindingsOn(profile, id),
      own: !STOCK_SURFACES.has(profile.surfaces[id].model),
      bracket: bracketOf(profile, id),
    }));
  });
  protected readonly choices = computed(() => {
    const own = (this.list().documents ?? []).map(({ id, name }) => ({ value: id, label: name }));
    const stock = [...STOCK_SURFACES.values()].filter(({ controls }) => controls.length > 0);
    return [
      ...(own.length > 0 ? [{ label: 'Your own', items: own }] : []),
      {
        label: 'That come with Rondo',
        items: stock.map(({ id, name }) => ({ value: id, label: name })),
      },
    ];
  });

  /** What can be steered: what ships with Rondo, charts of one's own, and programs that expect a surface. */
  protected readonly models = computed(() => {
    const own = (this.hostList().documents ?? []).map(({ id, name }) => ({
      value: id,
      label: name,
    }));
    const expected = this.choices()
      .flatMap(({ items }) => items)
      .filter(({ value }) => this.library.surface(value)?.device.desk !== 'extender')
      .map(({ value, label }) => ({ value: expectingId([value]), label: `Expects ${label}` }));
    return [
      {
        label: 'Simulated',
        items: [...HOST_MODELS.values()].map(({ id, name }) => ({ value: id, label: name })),
      },
      ...(own.length > 0 ? [{ label: 'By their charts', items: own }] : []),
      { label: 'A program that knows one surface only', items: expected },
    ];
  });
  protected readonly hosts = computed(() =>
    this.profile().hostOrder.map((id) => {
      const host = this.profile().hosts[id];
      const model = this.library.host(host.model);
      const units = expectedBy(host.model) ?? [];
      return {
        ...host,
        units: units.length,
        desk: model?.desk ?? false,
        own: !HOST_MODELS.has(host.model) && units.length === 0,
        waits: units.length > 0 ? this.couldStandIn(host.id) : [],
        about: !model
          ? 'not here any more'
          : units.length > 0
            ? `expects ${units.map((unit) => this.library.surface(unit)?.name ?? unit).join(' + ')}`
            : '',
      };
    }),
  );
  protected readonly expecting = computed(() =>
    this.profile().hostOrder.filter((id) => expectedBy(this.profile().hosts[id].model) !== null),
  );

  protected setBracket(id: string, change: Partial<Bracket>): void {
    this.editor.edit('profile', (profile) => setBracket(profile, id, change));
  }

  constructor() {
    this.store.dispatch(listActions.load({ kind: 'surface' }));
    this.store.dispatch(listActions.load({ kind: 'host' }));
    // What a program may expect has to be here for it to be named.
    effect(() => {
      for (const { id } of this.list().documents ?? []) this.library.fetch('surface', id);
    });
  }

  /** Surfaces that could stand in before a program; none where one does already. */
  private couldStandIn(host: string): { id: string; label: string }[] {
    const { surfaceOrder, surfaces } = this.profile();
    const all = surfaceOrder.map((id) => surfaces[id]);
    return all.some(({ standsIn }) => standsIn?.host === host)
      ? []
      : all.filter(({ standsIn }) => !standsIn);
  }

  protected openStandIn(id: string): void {
    this.standIns.open(id);
    this.left.emit();
  }

  protected letStandIn(id: string, host: string): void {
    this.standIns.letStandIn(id, host);
    this.left.emit();
  }

  /** The extender that stands beside what a program expects. */
  protected addUnit(id: string): void {
    const units = expectedBy(this.profile().hosts[id].model) ?? [];
    this.setUnits(id, [...units, HARROW_8_SIDE.id]);
  }

  protected dropUnit(id: string): void {
    const units = expectedBy(this.profile().hosts[id].model) ?? [];
    this.setUnits(id, units.slice(0, -1));
  }

  private setUnits(id: string, units: readonly string[]): void {
    this.editor.edit('profile', (profile) => setHostModel(profile, id, expectingId(units)));
  }

  /** Nothing is chosen in what only adds: another nothing each time, so that the same can be added once more. */
  protected readonly none = signal<null | undefined>(null);

  private chooseNothing(): void {
    this.none.update((now) => (now === null ? undefined : null));
  }

  protected add(model: string | null): void {
    const name = this.choices()
      .flatMap(({ items }) => items)
      .find(({ value }) => value === model)?.label;
    if (model && name) this.editor.edit('profile', (profile) => addSurface(profile, model, name));
    this.chooseNothing();
  }

  protected takeOut(id: string): void {
    this.editor.edit('profile', (profile) => removeSurface(profile, id));
  }

  protected addHost(model: string | null): void {
    const name = this.models()
      .flatMap(({ items }) => items)
      .find(({ value }) => value === model)
      ?.label.replace(/^Expects (.*)$/, 'Program for $1');
    if (model && name) this.editor.edit('profile', (profile) => addHost(profile, model, name));
    this.chooseNothing();
  }

  protected takeOutHost(id: string): void {
    this.editor.edit('profile', (profile) => removeHost(profile, id));
  }
}
