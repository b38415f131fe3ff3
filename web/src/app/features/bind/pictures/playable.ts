import { Directive, computed, inject, input } from '@angular/core';
import { LivePicture } from './live-picture';
import type { Shape } from './picture-painter';

/** A part of a picture that slides: it shows and takes a function, and is a slider to assistive technology. */
@Directive({
  selector: '[rondoSlide]',
  host: {
    role: 'slider',
    'aria-valuenow': '0',
    '[attr.aria-valuemin]': "shape() === 'pan' ? -100 : 0",
    'aria-valuemax': '100',
    '[attr.aria-orientation]': "shape() === 'fader' ? 'vertical' : null",
    '[attr.aria-label]': 'label()',
    '[attr.tabindex]': 'isStop() ? 0 : -1',
    '[class.taken]': 'picture.roving.taken() === address()',
    '(focus)': 'picture.roving.entered(address())',
    '[attr.data-address]': 'address()',
    '[attr.data-kind]': 'shape()',
  },
})
export class Slide {
  /** Address of its function. */
  readonly address = input.required<string>({ alias: 'rondoSlide' });
  readonly label = input.required<string>();
  readonly shape = input<Shape>('pan');
  protected readonly picture = inject(LivePicture);
  protected readonly isStop = computed(
    () =>
      this.picture.roving.stop() === this.address() &&
      !(this.picture.real() && !this.picture.points),
  );
}

/** A key of a picture: it shows and takes a function. Dead where a real program stands behind the picture. */
@Directive({
  selector: 'button[rondoKey]',
  host: {
    type: 'button',
    '[attr.aria-label]': 'label() || null',
    '[attr.title]': 'hint()',
    '[disabled]': 'picture.real() && !picture.points',
    '[attr.tabindex]': 'picture.roving.stop() === address() ? 0 : -1',
    '(focus)': 'picture.roving.entered(address())',
    '[attr.data-address]': 'address()',
    '[attr.data-kind]': 'shape()',
  },
})
export class Key {
  /** Address of its function. */
  readonly address = input.required<string>({ alias: 'rondoKey' });
  readonly shape = input.required<Shape>();
  /** Its name, where what stands on it does not say it. */
  readonly label = input('');
  readonly title = input('');
  protected readonly picture = inject(LivePicture);
  protected readonly hint = computed(() => this.title() || null);
}
