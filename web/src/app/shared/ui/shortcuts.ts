import { ApplicationRef, DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import { matchKeyBindingPress, parseKeybinding, type KeyBindingPress } from 'tinykeys';
import { hasKeyboard } from './typing';
import { keep, kept } from '../../state/kept';

const KEY = 'rondo.singleKeys';

/** Something that a key does. */
export interface Shortcut {
  /** In the words of tinykeys: `$mod` is Ctrl, on a Mac Cmd. More than one where keyboards write it differently. */
  readonly keys: readonly string[];
  /** How the help writes it. */
  readonly shown: string;
  /** What it does, in a few words. */
  readonly does: string;
  /** Absent where the thing itself listens, as a drawing does to arrows. */
  readonly run?: (event: KeyboardEvent) => void;
  /** Whether it does anything now; what does not is let through. */
  readonly when?: () => boolean;
}

interface Scope {
  readonly name: string;
  readonly shortcuts: readonly (Shortcut & { readonly presses: readonly KeyBindingPress[] })[];
}

/** A key that writes a character, with no modifier that makes it a command (WCAG 2.1.4). */
const isSingle = (event: KeyboardEvent): boolean =>
  event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey;

/**
 * All keys of the page. What is open adds its own, and takes them back when it closes; the newest is asked first. They are
 * silent while a field, list, menu or dialog has the keyboard. The help is made from them.
 */
@Injectable({ providedIn: 'root' })
export class Shortcuts {
  /** Whether keys that are single characters do anything: people who speak to their machine switch them off. */
  readonly single = signal(kept(KEY) !== 'off');
  private readonly scopes = signal<readonly Scope[]>([]);
  private readonly app = inject(ApplicationRef);
  /** What keys do now, the newest scope first. */
  readonly help = computed(() => [...this.scopes()].reverse());

  constructor() {
    const gone = new AbortController();
    inject(DestroyRef).onDestroy(() => gone.abort());
    document.addEventListener('keydown', (event) => this.onKey(event), gone);
    // What a key or a click has done is on the page before the next key comes, however quick the hand is: what it opened
    // has the keyboard, what it closed has it no more.
    for (const kind of ['keydown', 'click'])
      document.addEventListener(kind, () => this.app.tick(), gone);
  }

  /**
   * Adds keys for as long as what asks for them lives; call it where things are injected.
   * @param name what they are for, as the help says it
   */
  add(name: string, shortcuts: readonly Shortcut[]): void {
    const scope: Scope = {
      name,
      shortcuts: shortcuts.map((shortcut) => ({
        ...shortcut,
        presses: shortcut.keys.map((keys) => parseKeybinding(keys)[0]),
      })),
    };
    this.scopes.update((scopes) => [...scopes, scope]);
    inject(DestroyRef).onDestroy(() =>
      this.scopes.update((scopes) => scopes.filter((one) => one !== scope)),
    );
  }

  setSingle(on: boolean): void {
    this.single.set(on);
    keep(KEY, on ? 'on' : 'off');
  }

  private onKey(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.isComposing || hasKeyboard(event)) return;
    if (!this.single() && isSingle(event)) return;
    for (const { shortcuts } of this.help())
      for (const { presses, run, when } of shortcuts) {
        if (!run || !presses.some((press) => matchKeyBindingPress(event, press))) continue;
        if (when && !when()) continue;
        event.preventDefault();
        run(event);
        return;
      }
  }
}

/** Undo and redo, as every screen with a document has them. */
export const undoKeys = (undo: () => void, redo: () => void): readonly Shortcut[] => [
  { keys: ['$mod+z'], shown: 'Ctrl Z', does: 'Undo', run: undo },
  { keys: ['$mod+Shift+z', '$mod+y'], shown: 'Ctrl Shift Z', does: 'Redo', run: redo },
];
