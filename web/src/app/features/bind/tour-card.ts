import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { Button } from 'primeng/button';
import type { ControlRef } from '@rondo/core/profile';
import { Tour } from '../../shared/ui/tour';

/** How soon something that is not there yet is looked for again, ms. */
const AGAIN_MS = 100;

interface Step {
  readonly title: string;
  readonly text: string;
  /** What it is about, on the screen. */
  readonly at: string;
  /** What is done to go on, in place of Next. */
  readonly waits?: 'touch' | 'finder';
}

const STEPS: readonly Step[] = [
  {
    title: 'Touch a control',
    text: 'This is the surface; with nothing plugged in it is simulated, and you play it with the mouse. Move a fader, or press a key.',
    at: 'rondo-surface-drawing',
    waits: 'touch',
  },
  {
    title: 'Its round',
    text: 'Above, from left to right: what the control sent, how it was shaped, which function of the program it set. Where a way is broken, it says where and why.',
    at: 'section.round',
  },
  {
    title: 'What comes back',
    text: 'This is the program. Press a mute or move a volume here: lights, motors and texts of the surface follow. The lower half of the round says by which rule.',
    at: '.side.host, rondo-host-picture',
  },
  {
    title: 'Bind something else',
    text: 'With a control in hand press / or click Change, type what it shall do, and press Enter. Undo takes it back.',
    at: 'section.round',
    waits: 'finder',
  },
  {
    title: 'Real devices, and the way out',
    text: 'Ports puts real ones in place of the simulated. Hold off lets you touch without anything reaching a program, and Panic lets go of everything at once.',
    at: 'nav .panic',
  },
];

/** The step of the tour that one is at, in a corner, and a line around what it is about. */
@Component({
  selector: 'rondo-tour-card',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (step(); as s) {
      @if (frame(); as box) {
        <div
          class="around"
          aria-hidden="true"
          [style.left.px]="box.left"
          [style.top.px]="box.top"
          [style.width.px]="box.width"
          [style.height.px]="box.height"
        ></div>
      }
      <section class="card" [class.above]="isBelow()" aria-label="Tour of one minute">
        <h2>{{ s.title }}</h2>
        <p aria-live="polite">{{ s.text }}</p>
        <div class="row">
          <span class="where">{{ at() + 1 }} of {{ count }}</span>
          <p-button label="Leave the tour" size="small" [text]="true" (onClick)="tour.leave()" />
          <p-button
            [label]="at() + 1 === count ? 'Done' : 'Next'"
            size="small"
            (onClick)="tour.next(at(), count)"
          />
        </div>
      </section>
    }
  `,
  styles: `
    .around {
      position: fixed;
      z-index: 5;
      border: 2px dashed var(--forward);
      border-radius: 8px;
      pointer-events: none;
    }
    .card {
      position: fixed;
      z-index: 6;
      right: 20px;
      bottom: 20px;
      display: grid;
      gap: 8px;
      width: min(380px, calc(100vw - 40px));
      padding: 14px 16px;
      border: 1px solid var(--line-strong);
      border-left: 4px solid var(--forward);
      border-radius: 6px;
      background: var(--raised);
      box-shadow: var(--raise);
    }
    /* Never over what it speaks of. */
    .above {
      top: 88px;
      bottom: auto;
    }
    h2 {
      font-size: 16px;
    }
    p {
      line-height: 1.45;
    }
    .row {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    .where {
      flex: 1;
      color: var(--ink-soft);
      font-size: 13px;
    }
  `,
})
export class TourCard {
  readonly selected = input.required<ControlRef | null>();
  readonly finderOpen = input.required<boolean>();
  protected readonly tour = inject(Tour);
  protected readonly count = STEPS.length;
  protected readonly at = computed(() => this.tour.step() ?? 0);
  protected readonly step = computed(() => {
    const step = this.tour.step();
    return step === null ? null : STEPS[step];
  });
  /** Where what the step is about stands on the screen. */
  protected readonly frame = signal<DOMRect | null>(null);
  private again: ReturnType<typeof setTimeout> | undefined;
  protected readonly isBelow = computed(() => (this.frame()?.top ?? 0) > innerHeight / 2);
  /** What was in hand, and whether the finder was open, when the step began. */
  private before: { readonly selected: ControlRef | null; readonly isOpen: boolean } | null = null;

  constructor() {
    effect(() => {
      this.step();
      untracked(() => {
        this.before = { selected: this.selected(), isOpen: this.finderOpen() };
        this.look();
      });
    });
    effect(() => {
      const [selected, isOpen] = [this.selected(), this.finderOpen()];
      const step = this.tour.step();
      if (step === null || !this.before) return;
      const { waits } = STEPS[step];
      const isDone =
        (waits === 'touch' && selected !== this.before.selected) ||
        (waits === 'finder' && this.before.isOpen && !isOpen);
      this.before = { ...this.before, isOpen };
      if (isDone) untracked(() => this.tour.next(step, STEPS.length));
    });
    const look = () => this.look();
    addEventListener('resize', look);
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.again);
      removeEventListener('resize', look);
    });
  }

  private look(): void {
    clearTimeout(this.again);
    const step = this.step();
    const found = step ? document.querySelector(step.at) : null;
    this.frame.set(found?.getBoundingClientRect() ?? null);
    // What is being drawn yet is looked for again.
    if (step && !found) this.again = setTimeout(() => this.look(), AGAIN_MS);
  }
}
