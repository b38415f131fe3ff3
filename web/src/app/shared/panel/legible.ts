import {
  DestroyRef,
  ElementRef,
  computed,
  inject,
  signal,
  untracked,
  type Signal,
} from '@angular/core';

/** Smaller letters are not read on a screen, in pixels. */
const LEAST_PIXELS = 10;

/**
 * The size below which letters of a drawing would be too small to read, in the drawing's own unit, as large as the element
 * is drawn now. Call it where things are injected, in a component whose whole is the drawing.
 * @param extent width and height of what is drawn, in the drawing's own unit
 */
export function leastLetter(
  extent: () => { readonly width: number; readonly height: number },
): Signal<number> {
  const scale = signal(1);
  const sizes = new ResizeObserver(([{ contentRect: box }]) => {
    const { width, height } = untracked(extent);
    scale.set(Math.min(box.width / width, box.height / height) || 1);
  });
  sizes.observe(inject<ElementRef<HTMLElement>>(ElementRef).nativeElement);
  inject(DestroyRef).onDestroy(() => sizes.disconnect());
  return computed(() => LEAST_PIXELS / scale());
}
