import { DatePipe } from '@angular/common';
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
  viewChildren,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { PROFILE_VERSION, nineFerriesMix } from '@rondo/core/profile';
import { documentActions, listActions } from '../../state/actions';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { Api, freshId, words, type Imported, type StoredKind, type Summary } from '../../state/api';
import { Incoming } from './incoming';
import { SetUpList } from '../../shared/ui/set-up-list';
import { Tour } from '../../shared/ui/tour';
import { SetUps } from '../../state/set-ups';
import { Keep } from './keep';
import { saveFile } from '../../shared/ui/save-file';
import { IncomingFile } from '../../state/incoming-file';
import { rememberImport } from '../../state/last-import';
import { lastUsed } from '../../state/last-used';
import { LibraryService } from '../../state/library';
import { Thumb } from '../../shared/panel/thumb';
import { Shortcuts } from '../../shared/ui/shortcuts';
import { profileFeature, selectStateOf } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { selectListOf } from '../../state/list';

const MOST_PICTURES = 3;

@Component({
  selector: 'rondo-profiles',
  imports: [Button, DatePipe, Incoming, InputText, Keep, RouterLink, SetUpList, Thumb],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <div>
        <h1>Profiles</h1>
        <p>A profile says what each control of your surfaces does, and what comes back to it.</p>
        @if (!tour.isKnown()) {
          <p>
            <a routerLink="/bind/nine-ferries-mix" (click)="tour.start()">
              New here? A tour of one minute
            </a>
          </p>
        }
      </div>
      <div class="new">
        <input
          #file
          type="file"
          class="visually-hidden"
          accept="application/json,.json"
          tabindex="-1"
          aria-label="File of Rondo’s"
          (change)="read(file)"
        />
        <p-button
          label="Read from a file"
          severity="secondary"
          [outlined]="true"
          (onClick)="file.click()"
        />
        <p-button
          label="New from the demo"
          severity="secondary"
          [outlined]="true"
          (onClick)="createDemo()"
        />
        <p-button label="New profile" icon="pi pi-plus" routerLink="/profiles/new" />
      </div>
    </header>

    @if (refused(); as r) {
      <section class="trouble" role="alert">
        <p>
          “{{ r.file }}” was not read, and nothing was changed. Mend what is listed and read it
          again.
          <p-button label="Close" size="small" [text]="true" (onClick)="refused.set(null)" />
        </p>
        <ul class="faults">
          @for (fault of r.faults; track $index) {
            <li>
              <b>{{ fault.path }}</b> {{ fault.message }}
            </li>
          }
        </ul>
      </section>
    }
    @if (incoming(); as file) {
      <rondo-incoming [name]="file.name" [file]="file.content" (done)="taken($event)" />
    }
    @if (message(); as text) {
      <p class="trouble" role="alert">
        {{ text }} <p-button label="Try again" size="small" [text]="true" (onClick)="load()" />
      </p>
    }

    @if (profiles(); as list) {
      @if (list.length === 0) {
        <section class="empty">
          <h2>No profile yet</h2>
          <p>
            Start with an empty one and bind your first fader, or look at the demo to see how it
            goes.
          </p>
        </section>
      } @else {
        <ul>
          @for (profile of ordered(); track profile.id) {
            <li>
              @if (renaming() === profile.id) {
                <input
                  #name
                  pInputText
                  aria-label="Name of the profile"
                  maxlength="80"
                  [value]="profile.name"
                  (keydown.enter)="rename(profile.id, name.value)"
                  (keydown.escape)="renaming.set(null)"
                  (blur)="rename(profile.id, name.value)"
                />
              } @else {
                <span class="title">
                  <a [routerLink]="['/bind', profile.id]">{{ profile.name }}</a>
                  @if (profile.id === last()) {
                    <small>used last · <kbd>O</kbd></small>
                  }
                </span>
              }
              <span class="made">
                @for (surface of picturesOf(profile); track $index) {
                  <rondo-thumb [surface]="surface" />
                }
                <span class="when">
                  @if (profile.holds; as holds) {
                    @if (isNewer(profile)) {
                      Of a newer Rondo: kept as it is
                    } @else {
                      {{ holds.hosts.join(', ') || 'No host' }} ·
                      {{ holds.bindings === 1 ? '1 binding' : holds.bindings + ' bindings' }}
                      @if (holds.layers > 1) {
                        · {{ holds.layers }} layers
                      }
                    }
                    <br />
                  }
                  Saved {{ profile.updatedAt | date: 'd MMM y, HH:mm' }}
                </span>
              </span>
              <span class="does">
                <p-button
                  label="Rename"
                  size="small"
                  [text]="true"
                  severity="secondary"
                  [disabled]="isNewer(profile)"
                  (onClick)="startRename(profile.id)"
                />
                <p-button
                  [disabled]="isNewer(profile)"
                  label="Duplicate"
                  size="small"
                  [text]="true"
                  severity="secondary"
                  (onClick)="duplicate(profile.id)"
                />
                <p-button
                  label="To a file"
                  size="small"
                  [text]="true"
                  severity="secondary"
                  (onClick)="toFile(profile.id, profile.name)"
                />
                <p-button
                  label="Delete"
                  size="small"
                  [text]="true"
                  severity="secondary"
                  (onClick)="remove(profile.id, profile.name)"
                />
                <p-button
                  label="Open"
                  size="small"
                  [outlined]="true"
                  [routerLink]="['/bind', profile.id]"
                />
              </span>
            </li>
          }
        </ul>
      }
    } @else if (!message()) {
      <p class="loading" role="status">Loading profiles …</p>
    }
    @if (setUps.all()?.length) {
      <section class="set-ups">
        <h2>Set-ups</h2>
        <rondo-set-up-list [nameOf]="nameOf()" />
      </section>
    }
    <rondo-keep (changed)="restored($event)" (takenBack)="closeChanged($event)" />
  `,
  styles: `
    :host {
      display: block;
      height: 100%;
      overflow: auto;
      padding: 32px 40px;
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: end;
      gap: 24px;
      max-width: 1000px;
      margin-bottom: 24px;
    }
    h1 {
      font-size: 28px;
      letter-spacing: -0.01em;
    }
    header p,
    .empty p {
      color: var(--ink-soft);
      margin-top: 4px;
    }
    header a {
      color: var(--forward);
    }
    .new {
      display: flex;
      gap: 8px;
      white-space: nowrap;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      max-width: 1000px;
      border-top: 1px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 1fr auto auto;
      align-items: center;
      gap: 14px;
      min-height: 64px;
      border-bottom: 1px solid var(--line);
    }
    @media (max-width: 1000px) {
      li {
        grid-template-columns: 1fr auto;
        padding: 8px 0;
      }
      .does {
        grid-column: 1 / -1;
      }
    }
    li a {
      justify-self: start;
      padding: 6px 12px;
      background: var(--tape);
      color: var(--tape-ink);
      font-size: 16px;
      font-weight: 600;
      text-decoration: none;
    }
    li a:hover {
      text-decoration: underline;
    }
    .made {
      display: flex;
      align-items: center;
      justify-content: flex-end;
      gap: 8px;
      min-width: 300px;
    }
    .made .when {
      min-width: 190px;
    }
    rondo-thumb {
      width: 64px;
      height: 42px;
    }
    .title {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px 10px;
    }
    .title small {
      color: var(--ink-soft);
      white-space: nowrap;
    }
    .when,
    .loading {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .does {
      display: flex;
      gap: 2px;
    }
    .set-ups {
      max-width: 1000px;
      margin-top: 28px;
    }
    .set-ups h2 {
      margin-bottom: 8px;
      font-size: 16px;
    }
    .empty {
      max-width: 1000px;
      padding: 40px;
      border: 1px dashed var(--line-strong);
      border-radius: 8px;
      text-align: center;
    }
    .faults {
      border: 0;
      max-height: 220px;
      overflow: auto;
    }
    .faults li {
      display: block;
      min-height: 0;
      padding: 3px 0;
      border: 0;
    }
    .trouble {
      max-width: 1000px;
      padding: 10px 14px;
      margin-bottom: 16px;
      border-left: 4px solid var(--stop);
      background: var(--raised);
    }
  `,
})
export class Profiles {
  protected readonly tour = inject(Tour);
  private readonly store = inject(Store);
  private readonly list = this.store.selectSignal(selectListOf.profile);
  protected readonly profiles = computed(() => this.list().documents);
  protected readonly message = computed(() => this.list().message);
  private readonly used = lastUsed();
  /** The one that was used last first, then by when they were saved. */
  protected readonly ordered = computed(() => {
    const rank = (id: string) => {
      const at = this.used.indexOf(id);
      return at < 0 ? this.used.length : at;
    };
    return [...(this.profiles() ?? [])].sort((a, b) => rank(a.id) - rank(b.id));
  });
  protected readonly last = computed(() => {
    const [first] = this.ordered();
    return first && this.used.includes(first.id) ? first.id : null;
  });
  protected readonly setUps = inject(SetUps);
  protected readonly nameOf = computed(() => {
    const list = this.profiles() ?? [];
    return (id: string) => list.find((one) => one.id === id)?.name ?? 'its profile is deleted';
  });
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  private readonly router = inject(Router);
  private readonly given = inject(IncomingFile);
  private readonly opened = {
    profile: this.store.selectSignal(selectStateOf.profile),
    surface: this.store.selectSignal(selectStateOf.surface),
    host: this.store.selectSignal(selectStateOf.host),
  };
  protected readonly refused = this.given.refused;
  protected readonly incoming = this.given.file;
  private readonly api = inject(Api);
  private readonly keep = viewChild(Keep);
  protected readonly renaming = signal<string | null>(null);
  private readonly open = this.store.selectSignal(profileFeature.selectDocument);
  private readonly nameFields = viewChildren<ElementRef<HTMLInputElement>>('name');

  constructor() {
    this.load();
    void this.setUps.load();
    this.store.dispatch(listActions.load({ kind: 'surface' }));
    // What was deleted, or came back, is seen below at once.
    effect(() => {
      this.profiles();
      untracked(() => void this.keep()?.load());
    });
    effect(() => {
      for (const { holds } of this.profiles() ?? [])
        for (const model of holds?.surfaces ?? [])
          if (!STOCK_SURFACES.has(model)) this.library.fetch('surface', model);
    });
    inject(Shortcuts).add('Profiles', [
      {
        keys: ['o'],
        shown: 'O',
        does: 'Open the profile that was used last',
        when: () => this.ordered().length > 0,
        run: () => void this.router.navigate(['/bind', this.ordered()[0].id]),
      },
      {
        keys: ['n'],
        shown: 'N',
        does: 'Make a new profile',
        run: () => void this.router.navigate(['/profiles/new']),
      },
    ]);
  }

  /** Pictures of the first surfaces of a profile, as far as they are known. */
  /** Whether a newer Rondo has made it, so that it cannot be read here. */
  protected isNewer({ holds }: Summary): boolean {
    return (holds?.version ?? 0) > PROFILE_VERSION;
  }

  protected picturesOf({ holds }: Summary): Surface[] {
    return (holds?.surfaces ?? [])
      .flatMap((model) => this.library.surface(model) ?? [])
      .slice(0, MOST_PICTURES);
  }

  protected load(): void {
    this.store.dispatch(listActions.load({ kind: 'profile' }));
  }

  protected createDemo(): void {
    this.store.dispatch(
      listActions.create({
        kind: 'profile',
        document: nineFerriesMix(freshId('profile')),
        open: true,
      }),
    );
  }

  /** Reads a file: what it would do is shown before it is done. */
  protected async read(field: HTMLInputElement): Promise<void> {
    const file = field.files?.[0];
    field.value = '';
    if (file) await this.given.look(file);
  }

  protected taken(documents: readonly Imported[] | null): void {
    const name = this.incoming()?.name ?? '';
    this.incoming.set(null);
    if (!documents) return;
    this.closeChanged(documents);
    rememberImport(name, documents);
    this.keep()?.lookAtImport();
    for (const kind of new Set(documents.map((one) => one.kind))) this.restored(kind);
  }

  /** What a file has changed, or its taking back, is opened anew: what the page holds of it is of before. */
  protected closeChanged(documents: readonly Imported[]): void {
    for (const { kind, id, did } of documents)
      if ((did === 'new' || did === 'replaced') && this.opened[kind]().document?.id === id)
        this.store.dispatch(documentActions.close({ kind }));
  }

  protected restored(kind: StoredKind): void {
    if (kind === 'setup') void this.setUps.load();
    else this.store.dispatch(listActions.load({ kind }));
  }

  protected async toFile(id: string, name: string): Promise<void> {
    try {
      saveFile(name, await this.api.exported(id));
    } catch (error) {
      this.store.dispatch(listActions.failed({ kind: 'profile', message: words(error) }));
    }
  }

  protected startRename(id: string): void {
    this.renaming.set(id);
    setTimeout(() => this.nameFields()[0]?.nativeElement.select());
  }

  protected rename(id: string, name: string): void {
    if (this.renaming() !== id) return;
    this.renaming.set(null);
    const before = this.profiles()?.find((profile) => profile.id === id)?.name;
    const after = name.trim();
    if (after === '' || after === before) return;
    // The open profile is renamed where its other edits are, or the two would get in each other's way.
    if (this.open()?.id === id) this.editor.rename('profile', after);
    else this.store.dispatch(listActions.rename({ kind: 'profile', id, name: after }));
  }

  protected duplicate(id: string): void {
    this.store.dispatch(listActions.duplicate({ kind: 'profile', id }));
  }

  protected remove(id: string, name: string): void {
    if (this.open()?.id === id) this.store.dispatch(documentActions.close({ kind: 'profile' }));
    this.store.dispatch(listActions.delete({ kind: 'profile', id, name }));
  }
}
