import { Directive, inject, input } from '@angular/core';
import { Router } from '@angular/router';

/**
 * A button that leads to another screen. A router's own link on it would be a second Tab stop, around the button that it
 * holds.
 */
@Directive({ selector: 'p-button[rondoGoTo]', host: { '(click)': 'go()' } })
export class GoTo {
  /** The path, or its pieces. */
  readonly to = input.required<string | readonly unknown[]>({ alias: 'rondoGoTo' });
  private readonly router = inject(Router);

  protected go(): void {
    const to = this.to();
    void this.router.navigate(typeof to === 'string' ? [to] : [...to]);
  }
}
