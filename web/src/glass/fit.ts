import { mainPart, type Surface } from '@rondo/core/surface';

/** How wide a finger is, in pixels: what is played is no smaller, where the screen allows it (WCAG 2.2, 2.5.8 asks for 24). */
export const FINGER = 38;
/** Of the controls that are played so many may be smaller: a row of tiny keys does not blow up the whole panel. */
const MAY_BE_SMALLER = 0.1;

const NEARLY = 1.02;

/** How a panel is laid on a screen. */
export interface Fit {
  /** Pixels a millimetre. */
  readonly scale: number;
  /** Screens side by side that it takes. */
  readonly screens: number;
  /** Free room beside and above it, in pixels. */
  readonly left: number;
  readonly top: number;
}

/**
 * Lays a panel on a screen: whole where its controls are large enough for fingers then, else as high as the screen, over
 * several screens that one swipes through.
 * @param width of the screen, in pixels
 */
export function fitPanel(surface: Surface, width: number, height: number): Fit {
  const whole = Math.min(width / surface.width, height / surface.height);
  const sizes = surface.controls
    .filter((control) => mainPart(control.kind) !== null)
    .map((control) => Math.min(control.width, control.height))
    .sort((a, b) => a - b);
  const small = sizes[Math.floor(sizes.length * MAY_BE_SMALLER)] ?? FINGER;
  const large = Math.max(whole, Math.min(height / surface.height, FINGER / small));
  // What would stand out by next to nothing is made to fit.
  const scale = surface.width * large <= width * NEARLY ? whole : large;
  const screens = Math.ceil((surface.width * scale) / width / NEARLY);
  return {
    scale,
    screens,
    left: screens > 1 ? 0 : (width - surface.width * scale) / 2,
    top: (height - surface.height * scale) / 2,
  };
}
