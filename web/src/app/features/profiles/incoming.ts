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
import { Button } from 'primeng/button';
import type { RondoFile } from '@rondo/core/formats';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { Thumb } from '../../shared/panel/thumb';
import { OneOf } from '../../shared/ui/form';
import { Api, words, type Imported } from '../../state/api';

type Way = 'new' | 'replace';

const KINDS = { profile: 'Profile', surface: 'Surface', host: 'Host' } as const;
const MOST_PICTURES = 4;

/** A file that was given: what is in it, and what taking it in would do, before anything is done. */
@Component({
  selector: 'rondo-incoming',
  imports: [Button, OneOf, Thumb],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>{{ name() }}</h2>
    <div class="pictures">
      @for (surface of pictures(); track $index) {
        <rondo-thumb [surface]="surface" />
      }
    </div>
    @if (message(); as text) {
      <p class="trouble" role="alert">{{ text }}</p>
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
    <ul>
      @for (one of documents(); track one.kind + one.id) {
        <li>
          <span>{{ kinds[one.kind] }}</span>
          <b>{{ one.name }}</b>
          <span>{{ does(one) }}</span>
        </li>
      } @empty {
        <li>{{ looked() ? 'There is nothing in it.' : 'Looking at it …' }}</li>
      }
    </ul>
    <div class="row">
      <p-button
        label="Take it in"
        size="small"
        [disabled]="!changes() || busy()"
        (onClick)="take()"
      />
      <p-button
        [label]="changes() ? 'Cancel' : 'Close'"
        size="small"
        severity="secondary"
        [text]="true"
        (onClick)="done.emit(null)"
      />
      @if (looked() && !changes()) {
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
    small {
      color: var(--ink-soft);
    }
  `,
})
export class Incoming {
  readonly name = input.required<string>();
  readonly file = input.required<RondoFile>();
  /** What was taken in; null where nothing was. */
  readonly done = output<readonly Imported[] | null>();
  private readonly api = inject(Api);
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
    const used = profiles.flatMap((profile) =>
      profile.surfaceOrder.map((id) => profile.surfaces[id].model),
    );
    const all = [...new Set([...used, ...surfaces.map(({ id }) => id)])];
    return all
      .flatMap((id) => surfaces.find((one) => one.id === id) ?? STOCK_SURFACES.get(id) ?? [])
      .slice(0, MOST_PICTURES);
  });

  constructor() {
    effect(() => {
      const [file, way] = [this.file(), this.way()];
      void this.look(file, way);
    });
  }

  private async look(file: RondoFile, way: Way): Promise<void> {
    try {
      const [plain, chosen] = await Promise.all([
        this.api.import(file, null, true),
        this.api.import(file, way, true),
      ]);
      if (this.file() !== file || this.way() !== way) return;
      this.plain.set(plain);
      this.chosen.set(chosen);
      this.message.set('');
    } catch (error) {
      this.message.set(words(error));
    }
  }

  protected does({ did }: Imported): string {
    switch (did) {
      case 'new':
        return 'would be new';
      case 'replaced':
        return 'would replace yours';
      case 'same':
        return 'is here already';
      case 'refused':
        return 'ships with Rondo and stays as it is';
    }
  }

  protected async take(): Promise<void> {
    this.busy.set(true);
    try {
      this.done.emit(await this.api.import(this.file(), this.clashes() ? this.way() : null, false));
    } catch (error) {
      this.message.set(words(error));
    }
    this.busy.set(false);
  }
}
