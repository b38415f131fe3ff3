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
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import type { RondoFile } from '@rondo/core/formats';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { Thumb } from '../../shared/panel/thumb';
import { ActMenu, OneOf } from '../../shared/ui/form';
import { Api, words, type Imported, type Summary } from '../../state/api';
import { IncomingFile, type GivenFile, type Part } from '../../state/incoming-file';
import { selectListOf } from '../../state/list';

type Way = 'new' | 'replace';

const KINDS = { profile: 'Profile', surface: 'Surface', host: 'Host' } as const;
const MOST_PICTURES = 4;

/** A file that was given: what is in it, and what taking it in would do, before anything is done. */
@Component({
  selector: 'rondo-incoming',
  imports: [ActMenu, Button, OneOf, Thumb],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>{{ given().name }}</h2>
    <div class="pictures">
      @for (surface of pictures(); track $index) {
        <rondo-thumb [surface]="surface" />
      }
    </div>
    @if (file().author || file().notes) {
      <p class="about">
        @if (file().author; as author) {
          <b>By {{ author }}.</b>
        }
        {{ file().notes }}
      </p>
    }
    @if (message(); as text) {
      <p class="trouble" role="alert">{{ text }}</p>
    }
    @if (given().putRight.length > 0) {
      <div role="status">
        <p>Lists of what comes in which order did not name what is there. They are put right:</p>
        <ul>
          @for (one of given().putRight; track $index) {
            <li class="right">
              <b>{{ one.path }}</b> {{ one.message }}
            </li>
          }
        </ul>
      </div>
    }
    @for (part of parts(); track $index) {
      <div class="row">
        <span>{{ part.what }}</span>
        <b>{{ part.name }}</b>
        @if (part.into.length > 0) {
          <rondo-act-menu
            [label]="part.kind === 'layer' ? 'Put it into profile …' : 'Put it into surface …'"
            [options]="part.into"
            (chosen)="put(part.at, part.kind, $event)"
          />
        } @else {
          <small>{{
            part.kind === 'layer'
              ? 'There is no profile to put it into. Make one first.'
              : 'There is no surface of your own to put it into. Copy one of the library first.'
          }}</small>
        }
      </div>
    }
    @if (clashes()) {
      <p>Some of it is here already, and differs. What shall become of it?</p>
      <rondo-one-of
        label="What becomes of it"
        [options]="ways"
        [value]="way()"
        (chosen)="way.set($event)"
      />
    }
    @if (hasDocuments()) {
      <ul>
        @for (one of documents(); track one.kind + one.id) {
          <li>
            <span>{{ kinds[one.kind] }}</span>
            <b>{{ one.name }}</b>
            <span>
              {{ does(one) }}
              @if (one.missing; as missing) {
                <small>
                  It uses what is neither in the file nor here, and does nothing until that is:
                  {{ missing.join(', ') }}.
                </small>
              }
            </span>
          </li>
        } @empty {
          <li>{{ looked() ? 'There is nothing in it.' : 'Looking at it …' }}</li>
        }
      </ul>
    }
    <div class="row">
      @if (hasDocuments()) {
        <p-button
          label="Take it in"
          size="small"
          [disabled]="!changes() || busy()"
          (onClick)="take()"
        />
      }
      <p-button
        [label]="changes() ? 'Cancel' : 'Close'"
        size="small"
        severity="secondary"
        [text]="true"
        (onClick)="done.emit(null)"
      />
      @if (hasDocuments() && looked() && !changes()) {
        <small>All of it is here already, as it is in the file.</small>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      max-width: 1000px;
      margin-bottom: 18px;
      padding: 14px 16px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--sheet);
    }
    h2 {
      font-size: 16px;
    }
    ul {
      max-height: 240px;
      margin: 0;
      padding: 0;
      overflow: auto;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: 90px 1fr 1fr;
      gap: 10px;
      padding: 4px 0;
      border-top: 1px solid var(--line);
    }
    li.right {
      grid-template-columns: auto 1fr;
    }
    .row,
    .pictures {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
    }
    rondo-thumb {
      width: 110px;
      height: 70px;
    }
    .trouble {
      padding-left: 10px;
      border-left: 4px solid var(--stop);
    }
    .about {
      white-space: pre-line;
      max-height: 120px;
      overflow: auto;
    }
    small {
      color: var(--ink-soft);
    }
  `,
})
export class Incoming {
  readonly given = input.required<GivenFile>();
  protected readonly file = computed(() => this.given().content);
  /** What was taken in; null where nothing was. */
  readonly done = output<readonly Imported[] | null>();
  private readonly api = inject(Api);
  private readonly incoming = inject(IncomingFile);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  private readonly profiles = this.store.selectSignal(selectListOf.profile);
  private readonly surfaces = this.store.selectSignal(selectListOf.surface);
  /** Layers and palettes, and what each can be put into. */
  protected readonly parts = computed(() => {
    const options = (list: readonly Summary[] | null) =>
      (list ?? []).map(({ id, name }) => ({ value: id, label: name }));
    const into = {
      layer: options(this.profiles().documents),
      palette: options(this.surfaces().documents),
    };
    const { layers = [], palettes = [] } = this.file();
    return [
      ...layers.map(({ name, bindingOrder }, at) => ({
        kind: 'layer' as const,
        at,
        what:
          bindingOrder.length === 1 ? 'Layer, 1 binding' : `Layer, ${bindingOrder.length} bindings`,
        name,
        into: into.layer,
      })),
      ...palettes.map(({ name, colours }, at) => ({
        kind: 'palette' as const,
        at,
        what: colours.length === 1 ? 'Palette, 1 colour' : `Palette, ${colours.length} colours`,
        name,
        into: into.palette,
      })),
    ];
  });
  /** What is taken in as it is: all but layers and palettes. */
  protected readonly whole = computed((): RondoFile => {
    const { layers: _, palettes: __, ...rest } = this.file();
    return rest;
  });
  protected readonly hasDocuments = computed(() => {
    const { profiles, surfaces, hosts } = this.file();
    return this.parts().length === 0 || profiles.length + surfaces.length + hosts.length > 0;
  });
  protected readonly kinds = KINDS;
  protected readonly ways = [
    { value: 'new', label: 'Keep both: the file’s is new' },
    { value: 'replace', label: 'Replace mine: it stays among its versions' },
  ] as const;
  protected readonly way = signal<Way>('new');
  protected readonly message = signal('');
  protected readonly busy = signal(false);
  /** What would be done if nothing were said of clashes, and by the way that is chosen. */
  private readonly plain = signal<readonly Imported[] | null>(null);
  private readonly chosen = signal<readonly Imported[] | null>(null);
  protected readonly looked = computed(() => this.chosen() !== null);
  protected readonly clashes = computed(() => this.plain()?.some(({ did }) => did === 'refused'));
  protected readonly documents = computed(() => this.chosen() ?? []);
  protected readonly changes = computed(() =>
    this.documents().some(({ did }) => did === 'new' || did === 'replaced'),
  );
  protected readonly pictures = computed<Surface[]>(() => {
    const { profiles, surfaces } = this.file();
    const used = [...profiles, ...(this.file().layers ?? [])].flatMap((profile) =>
      profile.surfaceOrder.map((id) => profile.surfaces[id].model),
    );
    const all = [...new Set([...used, ...surfaces.map(({ id }) => id)])];
    return all
      .flatMap((id) => surfaces.find((one) => one.id === id) ?? STOCK_SURFACES.get(id) ?? [])
      .slice(0, MOST_PICTURES);
  });

  constructor() {
    effect(() => {
      const [file, way] = [this.whole(), this.way()];
      void this.look(file, way);
    });
  }

  private async look(file: RondoFile, way: Way): Promise<void> {
    try {
      const [plain, chosen] = await Promise.all([
        this.api.import(file, null, true),
        this.api.import(file, way, true),
      ]);
      if (this.whole() !== file || this.way() !== way) return;
      this.plain.set(plain);
      this.chosen.set(chosen);
      this.message.set('');
    } catch (error) {
      this.message.set(words(error));
    }
  }

  protected does({ did, mine, isNewer }: Imported): string {
    const yours = mine === undefined ? 'yours' : `yours, “${mine}”`;
    const of = isNewer ? `${yours}, which a newer Rondo has made and cannot be read here` : yours;
    switch (did) {
      case 'new':
        return mine === undefined ? 'would be new' : `would be new, beside ${of}`;
      case 'replaced':
        return `would replace ${of}`;
      case 'same':
        return 'the same is here already';
      case 'refused':
        return 'ships with Rondo and stays as it is';
    }
  }

  /** Opens what a part is put into: there it is an edit, which can be undone. */
  protected put(at: number, kind: Part['kind'], into: string): void {
    const { layers = [], palettes = [] } = this.file();
    this.incoming.part.set(
      kind === 'layer' ? { kind, into, layer: layers[at] } : { kind, into, palette: palettes[at] },
    );
    this.done.emit(null);
    void this.router.navigate([kind === 'layer' ? '/bind' : '/surfaces', into]);
  }

  protected async take(): Promise<void> {
    this.busy.set(true);
    try {
      this.done.emit(
        await this.api.import(this.whole(), this.clashes() ? this.way() : null, false),
      );
    } catch (error) {
      this.message.set(words(error));
    }
    this.busy.set(false);
  }
}
