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
import { listActions } from '../state/actions';
import { EngineService } from '../engine/engine.service';
import { NOTHING_OWN } from '../engine/library';
import { profileFeature } from '../state/document';
import type { Kind } from '../state/kinds';
import { IncomingFile } from '../state/incoming-file';
import { NetworkService } from '../state/network';
import { LibraryService } from '../state/library';
import { filter } from 'rxjs';
import { ArrowGroups } from '../shared/ui/arrow-groups';
import { NoteNames } from '../shared/words/note-names';
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
    Toast,
    ToggleSwitch,
    FormsModule,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(dragover)': 'hold($event)', '(drop)': 'drop($event)' },
  template: `
    <button type="button" class="skip" (click)="main.focus()">To the work</button>
    <nav aria-label="Screens">
      <a class="mark" routerLink="/profiles" aria-label="Rondo, to the profiles">
        <svg viewBox="0 0 40 24" aria-hidden="true">
          <path class="go" d="M4 10a7 7 0 0 1 7-7h18a7 7 0 0 1 7 7" />
          <path class="back" d="M36 14a7 7 0 0 1-7 7H11a7 7 0 0 1-7-7" />
        </svg>
        <span>Rondo</span>
      </a>
      <a routerLink="/profiles" routerLinkActive="here" ariaCurrentWhenActive="page">
        <i class="pi pi-folder" aria-hidden="true"></i>Profiles
      </a>
      <a routerLink="/surfaces" routerLinkActive="here" ariaCurrentWhenActive="page">
        <i class="pi pi-th-large" aria-hidden="true"></i>Surfaces
      </a>
      <a routerLink="/hosts" routerLinkActive="here" ariaCurrentWhenActive="page">
        <i class="pi pi-desktop" aria-hidden="true"></i>Hosts
      </a>
      @if (profile(); as open) {
        <a [routerLink]="['/bind', open.id]" routerLinkActive="here" ariaCurrentWhenActive="page">
          <i class="pi pi-link" aria-hidden="true"></i>Bind
        </a>
        <a [routerLink]="['/lights', open.id]" routerLinkActive="here" ariaCurrentWhenActive="page">
          <i class="pi pi-lightbulb" aria-hidden="true"></i>Lights
        </a>
      }
      <a routerLink="/ports" routerLinkActive="here" ariaCurrentWhenActive="page">
        <i class="pi pi-sliders-v" aria-hidden="true"></i>Ports
      </a>
      <span class="space"></span>
      @if (profile()) {
        <button
          type="button"
          class="panic"
          title="Lets go of everything: notes, keys, motors"
          (click)="engine.panic()"
        >
          <i class="pi pi-stop-circle" aria-hidden="true"></i>Panic
        </button>
      }
      <button type="button" (click)="theme.toggle()">
        <i
          class="pi"
          [class.pi-moon]="theme.name() === 'daylight'"
          [class.pi-sun]="theme.name() === 'booth'"
          aria-hidden="true"
        ></i>
        {{ theme.name() === 'daylight' ? 'Booth light' : 'Daylight' }}
      </button>
      <button type="button" (click)="keysOpen.set(true)">
        <i class="pi pi-question-circle" aria-hidden="true"></i>Keys
      </button>
    </nav>
    <main #main tabindex="-1"><router-outlet /></main>

    <p-dialog
      header="Keys"
      [visible]="keysOpen()"
      (visibleChange)="keysOpen.set($event)"
      [dismissableMask]="true"
      [modal]="true"
      [draggable]="false"
    >
      @for (scope of shortcuts.help(); track scope) {
        <h2>{{ scope.name }}</h2>
        <dl>
          @for (row of scope.shortcuts; track row.shown) {
            <dt>
              <kbd>{{ row.shown }}</kbd>
            </dt>
            <dd>{{ row.does }}</dd>
          }
        </dl>
      }
      <p-button
        label="A tour of one minute"
        size="small"
        [outlined]="true"
        (onClick)="takeTour()"
      />
      <div class="single">
        <p-toggleswitch
          inputId="single-keys"
          [ngModel]="shortcuts.single()"
          (ngModelChange)="shortcuts.setSingle($event)"
        />
        <label for="single-keys">Keys that are single characters do something</label>
      </div>
    </p-dialog>

    <p-toast key="undo" position="bottom-left">
      <ng-template #message let-message>
        <div class="toast">
          <span>{{ message.summary }}</span>
          <p-button label="Undo" size="small" (onClick)="restore(message.data)" />
        </div>
      </ng-template>
    </p-toast>
    <p-toast key="said" position="bottom-left" />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 76px minmax(0, 1fr);
      grid-template-rows: 100vh;
      height: 100vh;
      overflow: hidden;
    }
    /* Out of sight until Tab comes to it. */
    .skip:not(:focus) {
      width: 1px;
      height: 1px;
      padding: 0;
      border: 0;
      clip-path: inset(50%);
    }
    .skip {
      position: absolute;
      z-index: 10;
      left: 8px;
      top: 8px;
      padding: 10px 16px;
    }
    nav {
      display: flex;
      flex-direction: column;
      gap: 2px;
      padding: 10px 6px;
      border-right: 1px solid var(--line);
      background: var(--sheet);
    }
    nav a,
    nav button {
      display: flex;
      flex-direction: column;
      align-items: center;
      gap: 4px;
      padding: 8px 2px;
      min-height: 48px;
      border: 0;
      border-radius: 6px;
      background: none;
      color: var(--ink-soft);
      font-size: 12px;
      text-decoration: none;
      cursor: pointer;
    }
    nav a:hover,
    nav button:hover {
      background: var(--paper);
      color: var(--ink);
    }
    nav .here {
      background: var(--paper);
      color: var(--ink);
      box-shadow: inset 3px 0 0 var(--ink);
    }
    nav .panic {
      background: var(--panic);
      color: var(--on-panic);
      font-weight: 700;
    }
    nav .panic:hover {
      background: var(--panic);
      color: var(--on-panic);
      outline: 2px solid var(--ink);
    }
    nav .pi {
      font-size: 18px;
    }
    .mark {
      color: var(--ink);
      font-weight: 700;
      margin-bottom: 8px;
    }
    .mark svg {
      width: 38px;
      fill: none;
      stroke-width: 4;
      stroke-linecap: round;
    }
    .go {
      stroke: var(--forward);
    }
    .back {
      stroke: var(--return-line);
    }
    .space {
      flex: 1;
    }
    @media (max-height: 700px) {
      nav a,
      nav button {
        min-height: 40px;
        padding: 4px 2px;
      }
    }
    main {
      outline: none;
      min-width: 0;
      min-height: 0;
      overflow: hidden;
    }
    dl {
      display: grid;
      grid-template-columns: max-content 1fr;
      gap: 8px 20px;
      margin: 0;
    }
    dd {
      margin: 0;
    }
    p-dialog h2 {
      margin: 14px 0 6px;
      font-size: 15px;
    }
    .single {
      display: flex;
      align-items: center;
      gap: 10px;
      margin-top: 18px;
    }
    .toast {
      display: flex;
      align-items: center;
      gap: 16px;
    }
  `,
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
    // A backup was put back in another window: what this one holds is of before.
    new BroadcastChannel('rondo.restored').onmessage = () => location.reload();
    const { engine } = this;
    const library = inject(LibraryService);
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
    const file = event.dataTransfer?.files[0];
    if (!file) return;
    event.preventDefault();
    void this.incoming.look(file);
    void this.router.navigateByUrl('/profiles');
  }

  protected restore({ kind, id }: { kind: Kind; id: string }): void {
    this.store.dispatch(listActions.restore({ kind, id }));
    this.messages.clear('undo');
  }
}
