import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Actions, ofType } from '@ngrx/effects';
import { emptyProfile, type Profile } from '@rondo/core/profile';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Store } from '@ngrx/store';
import { MessageService } from 'primeng/api';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import { Toast } from 'primeng/toast';
import { ToggleSwitch } from 'primeng/toggleswitch';
import { FormsModule } from '@angular/forms';
import { documentActions, listActions } from '../state/actions';
import { EngineService } from '../engine/engine.service';
import { NOTHING_OWN } from '../engine/library';
import { profileFeature } from '../state/document';
import { DraftSaver } from '../state/draft-saver';
import type { Kind } from '../state/kinds';
import { IncomingFile } from '../state/incoming-file';
import { NetworkService } from '../state/network';
import { LibraryService } from '../state/library';
import { filter } from 'rxjs';
import { ArrowGroups } from '../shared/ui/arrow-groups';
import { NoteNames } from '../shared/words/note-names';
import { Over } from '../shared/ui/over';
import { ServerEvents } from '../state/server-events';
import { Shortcuts } from '../shared/ui/shortcuts';
import { Tour } from '../shared/ui/tour';
import { Theme } from '../shared/ui/theme';

/** No surface and no host: nothing is held and nothing is told. */
const NOTHING: Profile = {
  ...emptyProfile('nothing', 'Nothing'),
  surfaces: {},
  surfaceOrder: [],
  hosts: {},
  hostOrder: [],
};

/** The profile that the tour goes to where none is open. */
const DEMO = 'nine-ferries-mix';

@Component({
  selector: 'rondo-root',
  imports: [
    RouterOutlet,
    RouterLink,
    RouterLinkActive,
    Button,
    Dialog,
    Over,
    Toast,
    ToggleSwitch,
    FormsModule,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(dragover)': 'hold($event)', '(drop)': 'drop($event)' },
  templateUrl: './app.html',
  styleUrl: './app.css',
})
export class App {
  /** Id of the profile that plays; '' while none does. */
  private playing = '';
  protected readonly engine = inject(EngineService);
  protected readonly theme = inject(Theme);
  protected readonly shortcuts = inject(Shortcuts);
  private readonly main = viewChild.required<ElementRef<HTMLElement>>('main');
  protected readonly keysOpen = signal(false);
  private readonly store = inject(Store);
  private readonly messages = inject(MessageService);
  protected readonly profile = this.store.selectSignal(profileFeature.selectDocument);

  private readonly tour = inject(Tour);
  private readonly router = inject(Router);
  private readonly incoming = inject(IncomingFile);

  /** Begins the tour, in the profile that is open, else in the demo. */
  protected takeTour(): void {
    this.keysOpen.set(false);
    this.tour.start();
    if (!this.router.url.startsWith('/bind/')) void this.router.navigateByUrl(`/bind/${DEMO}`);
  }

  constructor() {
    // A backup was put back, wherever: what this window holds is of before.
    inject(ServerEvents).heard.subscribe(({ says }) => {
      if (says === 'allChanged') location.reload();
    });
    const { engine } = this;
    engine.refused = (_, outcome) =>
      this.messages.add({
        key: 'said',
        summary:
          outcome === 'noAnswer'
            ? 'Nothing was done: the window that plays does not answer. Close it, or load it again.'
            : outcome === 'otherProfile'
              ? `Nothing was done: the window that plays has ${engine.otherProfile() ? `“${engine.otherProfile()?.name}”` : 'another profile'} open. Open this profile there, then do it again.`
              : 'Nothing was done: what it is about is not in the profile that plays.',
        life: 8_000,
      });
    const library = inject(LibraryService);
    inject(DraftSaver).start();
    void inject(NetworkService).load();
    inject(NoteNames);
    inject(ArrowGroups);
    // The focus follows to another screen, so that what is read or pressed next is there.
    const screenOf = (url: string) => url.split('/')[1] ?? '';
    let screen: string | null = null;
    inject(Router)
      .events.pipe(
        filter((event) => event instanceof NavigationEnd),
        takeUntilDestroyed(),
      )
      .subscribe(({ urlAfterRedirects }) => {
        const now = screenOf(urlAfterRedirects);
        if (screen !== null && screen !== now) this.main().nativeElement.focus();
        screen = now;
      });
    this.shortcuts.add('Everywhere', [
      {
        keys: ['?', 'Shift+?'],
        shown: '?',
        does: 'This list',
        run: () => this.keysOpen.set(true),
      },
    ]);
    // A profile that is deleted plays no more: all that it held is let go.
    inject(Actions)
      .pipe(ofType(listActions.deleted), takeUntilDestroyed())
      .subscribe(({ kind, id }) => {
        if (kind === 'profile' && id === this.playing) engine.setProfile(NOTHING, NOTHING_OWN);
      });
    // Here, not on a screen: what is edited anywhere is at once what plays.
    effect(() => {
      const profile = this.profile();
      if (!profile) return;
      library.need(profile);
      if (!library.has(profile)) return;
      this.playing = profile.id;
      engine.setProfile(profile, library.own());
    });
  }

  /** A file may be dropped wherever one is. */
  protected hold(event: DragEvent): void {
    if (event.dataTransfer?.types.includes('Files')) event.preventDefault();
  }

  protected drop(event: DragEvent): void {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length === 0) return;
    event.preventDefault();
    void this.incoming.look(files);
    void this.router.navigateByUrl('/profiles');
  }

  /** The step that was refused is passed over; the one before it is the next. */
  protected leaveOut(kind: Kind): void {
    this.store.dispatch(documentActions.leaveOut({ kind }));
  }

  protected restore({ kind, id }: { kind: Kind; id: string }): void {
    this.store.dispatch(listActions.restore({ kind, id }));
    this.messages.clear('undo');
  }
}
