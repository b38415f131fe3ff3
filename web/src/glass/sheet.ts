import type { Habits } from './habits';

const ABOUT =
  'This link is not encrypted: use it in a network that you trust. The screen may go to sleep; keep it awake in the settings of this device.';

const FADERS = [
  ['grab', 'go along from wherever a finger comes down'],
  ['jump', 'jump to the finger'],
] as const;
const DIALS = [
  ['drag', 'turn by dragging up and down'],
  ['angle', 'turn round with the finger'],
] as const;

function choice<V extends string>(
  title: string,
  options: readonly (readonly [V, string])[],
  now: V,
  chosen: (value: V) => void,
): HTMLElement {
  const group = document.createElement('fieldset');
  const legend = document.createElement('legend');
  legend.textContent = title;
  group.append(legend);
  for (const [value, text] of options) {
    const label = document.createElement('label');
    const input = document.createElement('input');
    input.type = 'radio';
    input.name = title;
    input.checked = value === now;
    input.addEventListener('change', () => chosen(value));
    label.append(input, text);
    group.append(label);
  }
  return group;
}

/**
 * The fields of how one likes to play on this device.
 * @param changed takes what was chosen
 * @param close leaves the sheet
 */
export function habitFields(
  habits: Habits,
  changed: (part: Partial<Habits>) => void,
  close: () => void,
): HTMLElement[] {
  const about = document.createElement('p');
  about.textContent = ABOUT;
  const full = document.createElement('button');
  full.type = 'button';
  full.textContent = 'Full screen';
  full.addEventListener('click', () => {
    close();
    void document.documentElement.requestFullscreen().catch(() => undefined);
  });
  return [
    choice('Faders', FADERS, habits.faders, (faders) => changed({ faders })),
    choice('Dials', DIALS, habits.dials, (dials) => changed({ dials })),
    ...(document.fullscreenEnabled ? [full] : []),
    about,
  ];
}
