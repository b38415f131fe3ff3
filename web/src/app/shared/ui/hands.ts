import { DestroyRef, Directive, ElementRef, inject, input } from '@angular/core';

/** What a pointer or a key has taken hold of, until it is let go. */
export interface Grip {
  /** The pointer that holds it has moved. */
  move?(event: PointerEvent): void;
  /**
   * It is let go.
   * @param lost it was taken away, as by a hidden page, and not let go by the hand
   */
  end(lost: boolean): void;
}

/** What is played by hands: it says what a pointer or a key takes hold of. */
export interface Played {
  /** The thing that stands at a place, by a name of its own; null for none. It is held once, others beside it. */
  thingAt(target: EventTarget | null): string | null;
  /** A pointer comes down on a thing that nothing holds; null where it takes hold of nothing. */
  grasp(event: PointerEvent): Grip | null;
  /**
   * A key goes down; null where no release is waited for.
   * @param held something holds the thing already, as the same key does while it repeats
   */
  strike(event: KeyboardEvent, held: boolean): Grip | null;
}

interface Held {
  readonly thing: string;
  readonly grip: Grip;
}

/**
 * Pointers and keys on what is played. Each pointer has its own drag, as ten fingers need. A key's release is found by its
 * key wherever the focus is by then. Lost capture, a window that loses its focus, a hidden page, Escape and the end of
 * the element let go exactly what was held. With Alt down when a pointer leaves it, a thing stays held, so that one mouse can
 * move another beside it; a click on it lets go.
 */
@Directive({
  selector: '[rondoHands]',
  host: {
    '(pointerdown)': 'down($event)',
    '(pointermove)': 'move($event)',
    '(pointerup)': 'up($event, false)',
    '(pointercancel)': 'up($event, true)',
    '(lostpointercapture)': 'up($event, true)',
    '(keydown)': 'keyDown($event)',
    '(document:keyup)': 'keyUp($event)',
    '(document:keydown.escape)': 'letGo()',
    '(document:visibilitychange)': 'hidden()',
    '(window:blur)': 'letGo()',
  },
})
export class Hands {
  readonly played = input.required<Played>({ alias: 'rondoHands' });

  private readonly element: Element = inject<ElementRef<Element>>(ElementRef).nativeElement;
  private readonly pointers = new Map<number, Held>();
  /** By the key's place on the keyboard: what a key writes may change while it is down. */
  private readonly keys = new Map<string, Held>();
  /** What stays held without a pointer, by its thing. */
  private readonly kept = new Map<string, Held>();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.letGo());
  }

  protected down(event: PointerEvent): void {
    if (event.button !== 0 || this.pointers.has(event.pointerId)) return;
    const played = this.played();
    const thing = played.thingAt(event.target);
    if (thing === null) return;
    const kept = this.kept.get(thing);
    if (kept) {
      this.kept.delete(thing);
      kept.grip.end(false);
      return;
    }
    if (this.isHeld(thing)) return;
    const grip = played.grasp(event);
    if (!grip) return;
    this.element.setPointerCapture(event.pointerId);
    this.pointers.set(event.pointerId, { thing, grip });
  }

  protected move(event: PointerEvent): void {
    this.pointers.get(event.pointerId)?.grip.move?.(event);
  }

  protected up(event: PointerEvent, lost: boolean): void {
    const held = this.pointers.get(event.pointerId);
    this.pointers.delete(event.pointerId);
    if (held && event.altKey && !lost) this.kept.set(held.thing, held);
    else held?.grip.end(lost);
  }

  protected keyDown(event: KeyboardEvent): void {
    const played = this.played();
    const thing = played.thingAt(event.target);
    if (thing === null) return;
    const grip = played.strike(event, this.isHeld(thing));
    if (!grip) return;
    this.keys.get(event.code)?.grip.end(true);
    this.keys.set(event.code, { thing, grip });
  }

  protected keyUp(event: KeyboardEvent): void {
    const held = this.keys.get(event.code);
    this.keys.delete(event.code);
    held?.grip.end(false);
  }

  protected hidden(): void {
    if (document.hidden) this.letGo();
  }

  private isHeld(thing: string): boolean {
    return this.all().some((held) => held.thing === thing);
  }

  private all(): Held[] {
    return [...this.pointers.values(), ...this.keys.values(), ...this.kept.values()];
  }

  /** Lets go of all that is held. */
  protected letGo(): void {
    const held = this.all();
    this.kept.clear();
    this.pointers.clear();
    this.keys.clear();
    for (const { grip } of held) grip.end(true);
  }
}
