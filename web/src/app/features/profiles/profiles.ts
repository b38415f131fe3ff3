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
import { faultPlace } from '@rondo/core/formats';
import { PROFILE_VERSION, nineFerriesMix } from '@rondo/core/profile';
import { documentActions, listActions } from '../../state/actions';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { Api, freshId, words, type Imported, type StoredKind, type Summary } from '../../state/api';
import { Incoming } from './incoming';
import { GoTo } from '../../shared/ui/go-to';
import { SetUpList } from '../../shared/ui/set-up-list';
import { Tour } from '../../shared/ui/tour';
import { SetUps } from '../../state/set-ups';
import { Keep } from './keep';
import { saveFile } from '../../shared/ui/save-file';
import { IncomingFile, type GivenFile, type RefusedFile } from '../../state/incoming-file';
import { rememberImport } from '../../state/last-import';
import { lastUsed } from '../../state/last-used';
import { LibraryService } from '../../state/library';
import { Thumb } from '../../shared/panel/thumb';
import { Shortcuts } from '../../shared/ui/shortcuts';
import { profileFeature, selectStateOf } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { DraftSaver } from '../../state/draft-saver';
import { WholeFile } from '../../state/whole-file';
import { UnsavedList } from '../../shared/ui/unsaved';
import { selectListOf } from '../../state/list';

const MOST_PICTURES = 3;

@Component({
  selector: 'rondo-profiles',
  imports: [
    Button,
    DatePipe,
    GoTo,
    Incoming,
    InputText,
    Keep,
    RouterLink,
    SetUpList,
    Thumb,
    UnsavedList,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './profiles.html',
  styleUrl: './profiles.css',
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
  protected readonly incoming = this.given.files;
  protected readonly faultPlace = faultPlace;
  private readonly api = inject(Api);
  private readonly files = inject(WholeFile);
  private readonly saver = inject(DraftSaver);
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

  /** Reads files: what each would do is shown before it is done. */
  protected async read(field: HTMLInputElement): Promise<void> {
    const files = [...(field.files ?? [])];
    field.value = '';
    if (files.length > 0) await this.given.look(files);
  }

  protected dismiss(refused: RefusedFile): void {
    this.refused.update((all) => all.filter((one) => one !== refused));
  }

  protected taken(file: GivenFile, documents: readonly Imported[] | null): void {
    this.given.leave(file);
    if (!documents) return;
    this.tellReplaced(
      documents,
      `was replaced by “${file.name}”. What it was is among its versions.`,
    );
    rememberImport(file.name, documents);
    this.keep()?.lookAtImport();
    for (const kind of new Set(documents.map((one) => one.kind))) this.restored(kind);
  }

  /** What a file has changed, or its taking back, is shown anew wherever it is open. */
  protected tellReplaced(documents: readonly Imported[], by: string): void {
    for (const { kind, id, did } of documents)
      if (did === 'replaced' || (did === 'new' && this.opened[kind]().document?.id === id))
        this.store.dispatch(listActions.replaced({ kind, id, by }));
  }

  protected restored(kind: StoredKind): void {
    if (kind === 'setup') void this.setUps.load();
    else this.store.dispatch(listActions.load({ kind }));
  }

  protected async toFile(id: string, name: string): Promise<void> {
    try {
      // What is on the screen, also where the server has another one, or none of it yet.
      const mine = this.open()?.id === id ? this.open() : await this.saver.document('profile', id);
      const file = mine ? await this.files.of('profile', mine) : (await this.api.exported(id)).file;
      saveFile(name, file);
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
