import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  input,
  signal,
  viewChild,
} from '@angular/core';

const STEPS = [1, 1.5, 2, 3, 4] as const;

/** A window on something drawn, which can be drawn larger than the window and moved under it. */
@Component({
  selector: 'rondo-zoom',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div #pane class="pane" (wheel)="onWheel($event)">
      <div
        class="sheet"
        [style.width.%]="factor() * 100"
        [style.height.%]="factor() * 100"
        [style.min-width.px]="leastWidth() * factor()"
        [style.min-height.px]="leastHeight() * factor()"
      >
        <ng-content />
      </div>
    </div>
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
      min-height: 0;
    }
    .pane {
      width: 100%;
      height: 100%;
      overflow: auto;
      scrollbar-width: thin;
    }
    .sheet {
      display: grid;
      grid-template: minmax(0, 1fr) / minmax(0, 1fr);
    }
  `,
})
export class Zoom {
  /** What the drawing needs to be legible, in pixels: a window that is smaller is moved over it. */
  readonly leastWidth = input(0);
  readonly leastHeight = input(0);
  /** Times as large as the window. */
  readonly factor = computed(() => STEPS[this.step()]);
  readonly isLargest = computed(() => this.step() === STEPS.length - 1);
  private readonly step = signal(0);
  private readonly pane = viewChild.required<ElementRef<HTMLElement>>('pane');

  /** Draws it larger or smaller; what is in the middle stays there. */
  by(steps: 1 | -1): void {
    const pane = this.pane().nativeElement;
    const before = this.factor();
    this.step.update((step) => Math.max(0, Math.min(STEPS.length - 1, step + steps)));
    const grows = this.factor() / before;
    const x = (pane.scrollLeft + pane.clientWidth / 2) * grows - pane.clientWidth / 2;
    const y = (pane.scrollTop + pane.clientHeight / 2) * grows - pane.clientHeight / 2;
    requestAnimationFrame(() => pane.scrollTo(x, y));
  }

  protected onWheel(event: WheelEvent): void {
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    this.by(event.deltaY < 0 ? 1 : -1);
  }
}

/** Larger and smaller, for a {@link Zoom}. */
@Component({
  selector: 'rondo-zoom-keys',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      type="button"
      [attr.aria-label]="'Smaller: ' + label()"
      title="Smaller (Ctrl and the wheel)"
      [disabled]="of().factor() === 1"
      (click)="of().by(-1)"
    >
      <i class="pi pi-search-minus" aria-hidden="true"></i>
    </button>
    <button
      type="button"
      [attr.aria-label]="'Larger: ' + label()"
      title="Larger (Ctrl and the wheel)"
      [disabled]="of().isLargest()"
      (click)="of().by(1)"
    >
      <i class="pi pi-search-plus" aria-hidden="true"></i>
    </button>
  `,
  styles: `
    :host {
      display: inline-flex;
      gap: 2px;
    }
    button {
      width: 26px;
      height: 24px;
      padding: 0;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: none;
      cursor: pointer;
    }
    button:disabled {
      opacity: 0.45;
      cursor: default;
    }
    .pi {
      font-size: 12px;
    }
  `,
})
export class ZoomKeys {
  readonly of = input.required<Zoom>();
  /** What is made larger. */
  readonly label = input.required<string>();
}
