import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  inject,
  input,
} from '@angular/core';
import { Workbench } from '../workbench';

/**
 * The heading of what is open for editing beside the drawing. It has the keyboard as it opens, so that Tab goes on into what
 * was opened; as that closes, the keyboard goes back to where it was.
 */
@Component({
  selector: 'rondo-panel-head',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 tabindex="-1">{{ title() }}</h2>
    <small>{{ about() }}</small>
    <button type="button" aria-label="Close" (click)="close()">
      <i class="pi pi-times" aria-hidden="true"></i>
    </button>
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    h2 {
      font-size: 15px;
      white-space: nowrap;
    }
    small {
      flex: 1;
      overflow: hidden;
      color: var(--ink-soft);
      font-size: 12.5px;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    button {
      width: 28px;
      height: 28px;
      border: 0;
      border-radius: 4px;
      background: none;
      cursor: pointer;
    }
    button:hover {
      background: var(--line);
    }
  `,
})
export class PanelHead {
  readonly title = input.required<string>();
  readonly about = input('');
  protected readonly bench = inject(Workbench);

  constructor() {
    const { nativeElement } = inject<ElementRef<HTMLElement>>(ElementRef);
    const page = nativeElement.ownerDocument;
    const before = page.activeElement;
    afterNextRender(() => {
      // What is opened because a hand plays leaves the keyboard with the hand; a field may have taken it already.
      const isAsked = before?.closest('button, a, [role=menuitem], [role=tab]');
      const isTaken = page.activeElement?.matches('input, textarea, [role=combobox]');
      if (isAsked && !isTaken) nativeElement.querySelector('h2')?.focus({ preventScroll: true });
    });
    inject(DestroyRef).onDestroy(() => {
      const panel = nativeElement.parentElement;
      const isHere = panel?.contains(page.activeElement) || page.activeElement === page.body;
      if (isHere && before instanceof HTMLElement && before.isConnected)
        before.focus({ preventScroll: true });
    });
  }

  protected close(): void {
    this.bench.panel.set('none');
    this.bench.causeId.set(null);
  }
}
