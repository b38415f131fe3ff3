import { Directive, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Dialog } from 'primeng/dialog';
import { Popover } from 'primeng/popover';

/** What lies over the page, as the library marks it. */
const OVER = '[role="dialog"]';

/**
 * What opens over the page gives the keyboard back as it closes, to where it was, unless that has gone on meanwhile. It
 * is told to go while it still stands and has the keyboard, or when it is gone and nothing has.
 */
@Directive({ selector: 'p-dialog, p-popover' })
export class Over {
  private before: Element | null = null;

  constructor() {
    const self = { self: true, optional: true } as const;
    const over = inject(Popover, self) ?? inject(Dialog, self);
    // Before the keyboard goes over to it, which takes some milliseconds.
    over?.onShow.pipe(takeUntilDestroyed()).subscribe(() => (this.before = document.activeElement));
    over?.onHide.pipe(takeUntilDestroyed()).subscribe(() => this.giveBack());
  }

  private giveBack(): void {
    const { before } = this;
    this.before = null;
    const { activeElement: at } = document;
    if (at !== document.body && !at?.closest(OVER)) return;
    if (before instanceof HTMLElement || before instanceof SVGElement) before.focus();
  }
}
