import { Injectable, computed, effect, signal } from '@angular/core';
import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';
import { keep, kept } from '../../state/kept';

const petrol = {
  50: '#eef6f7',
  100: '#d5e8ea',
  200: '#aad1d6',
  300: '#76b4bd',
  400: '#3f919e',
  500: '#17707f',
  600: '#0f5c6a',
  700: '#0c4a56',
  800: '#0a3b45',
  900: '#082f37',
  950: '#051e24',
};
/** Fields are as the paper they lie on. */
const formField = {
  background: 'var(--sheet)',
  borderColor: 'var(--line-strong)',
  hoverBorderColor: 'var(--ink-soft)',
  focusBorderColor: 'var(--focus)',
  color: 'var(--ink)',
  placeholderColor: 'var(--ink-soft)',
  invalidBorderColor: 'var(--return-line)',
  iconColor: 'var(--ink-soft)',
  shadow: 'none',
};
const paper = {
  0: '#fdfbf7',
  50: '#f8f4ec',
  100: '#f1ebdf',
  200: '#e4dbc9',
  300: '#d0c4ac',
  400: '#a89c84',
  500: '#7d735f',
  600: '#5f5747',
  700: '#474136',
  800: '#302c25',
  900: '#211e19',
  950: '#171512',
};

/** What is said in passing is read as any other text; what kind it is its edge tells. */
const said = (edge: string) => ({
  background: 'var(--sheet)',
  borderColor: edge,
  color: 'var(--ink)',
  detailColor: 'var(--ink)',
});
const toasts = {
  info: said('var(--line-strong)'),
  success: said('var(--line-strong)'),
  warn: said('var(--return-line)'),
  error: said('var(--return-line)'),
};

/** Rondo's own look for PrimeNG: paper, ink lines, petrol for what is pressed. */
export const RONDO_PRESET = definePreset(Aura, {
  semantic: {
    primary: petrol,
    borderRadius: { none: '0', xs: '2px', sm: '3px', md: '5px', lg: '8px', xl: '12px' },
    formField: { sm: { fontSize: '13px', paddingX: '7px', paddingY: '4px' } },
    focusRing: { width: '2px', style: 'solid', color: 'var(--focus)', offset: '2px' },
    colorScheme: {
      light: {
        surface: paper,
        formField,
        primary: {
          color: petrol[600],
          contrastColor: '#ffffff',
          hoverColor: petrol[700],
          activeColor: petrol[800],
        },
      },
      dark: {
        surface: paper,
        formField,
        primary: {
          color: petrol[300],
          contrastColor: '#10211f',
          hoverColor: petrol[200],
          activeColor: petrol[100],
        },
      },
    },
  },
  components: {
    toggleswitch: { root: { width: '30px', height: '18px' }, handle: { size: '12px' } },
    toast: { colorScheme: { light: toasts, dark: toasts } },
    slider: { track: { size: '4px' }, handle: { width: '18px', height: '18px' } },
  },
});

export type ThemeName = 'daylight' | 'booth';
const KEY = 'rondo.theme';

/** Daylight, or Booth light for dark rooms: as the system has it, until one is chosen here. */
@Injectable({ providedIn: 'root' })
export class Theme {
  private readonly system = matchMedia('(prefers-color-scheme: dark)');
  private readonly ofSystem = signal(this.system.matches);
  private readonly chosen = signal(read());
  readonly name = computed<ThemeName>(
    () => this.chosen() ?? (this.ofSystem() ? 'booth' : 'daylight'),
  );

  constructor() {
    this.system.addEventListener('change', ({ matches }) => this.ofSystem.set(matches));
    effect(() => document.documentElement.classList.toggle('booth', this.name() === 'booth'));
  }

  toggle(): void {
    const next = this.name() === 'booth' ? 'daylight' : 'booth';
    this.chosen.set(next);
    keep(KEY, next);
  }
}

function read(): ThemeName | null {
  const known = kept(KEY);
  return known === 'booth' || known === 'daylight' ? known : null;
}
