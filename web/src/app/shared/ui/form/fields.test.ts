import { Component, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import fc from 'fast-check';
import { Choice, NumberField, Switch, TextField } from './index';

/** Whoever owns the values: it takes what is offered, or refuses it, as a document does. */
@Component({
  imports: [Choice, NumberField, Switch, TextField],
  template: `
    <rondo-number
      label="Level"
      [min]="0"
      [max]="100"
      [digits]="1"
      [value]="level()"
      (changed)="offer($event)"
    />
    <rondo-switch [on]="on()" (turned)="turn($event)">Follow</rondo-switch>
    <rondo-choice label="Kind" [options]="kinds" [value]="kind()" (chosen)="choose($event)" />
    <input #text class="text" [rondoText]="name()" (change)="call(text.value)" />
  `,
})
class Owner {
  readonly kinds = ['fader', 'knob', 'pad'].map((value) => ({ value, label: `A ${value}` }));
  readonly level = signal<number | null>(10);
  readonly on = signal(false);
  readonly kind = signal('fader');
  readonly name = signal('Name');
  readonly offered: unknown[] = [];
  takes = true;

  offer(value: number | null): void {
    this.offered.push(value);
    if (this.takes) this.level.set(value);
  }
  turn(on: boolean): void {
    this.offered.push(on);
    if (this.takes) this.on.set(on);
  }
  call(name: string): void {
    this.offered.push(name);
    if (this.takes) this.name.set(name);
  }
  choose(kind: string): void {
    this.offered.push(kind);
    if (this.takes) this.kind.set(kind);
  }
}

let fixture: ComponentFixture<Owner>;
let owner: Owner;
const find = <E extends HTMLElement>(what: string): E =>
  (fixture.nativeElement as HTMLElement).querySelector<E>(what)!;
const number = () => find<HTMLInputElement>('rondo-number input');

async function type(text: string): Promise<void> {
  number().focus();
  number().value = text;
  number().dispatchEvent(new Event('input', { bubbles: true }));
  number().blur();
  await fixture.whenStable();
}

beforeEach(async () => {
  fixture = TestBed.createComponent(Owner);
  document.body.append(fixture.nativeElement as Node);
  owner = fixture.componentInstance;
  await fixture.whenStable();
});
afterEach(() => fixture.destroy());

test('a number shows what its owner has, whatever is typed and whether or not that is taken', async () => {
  const typed = fc.oneof(fc.double({ min: -500, max: 500, noNaN: true }).map(String), fc.string());
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(typed, fc.boolean()), { maxLength: 6 }), async (steps) => {
      for (const [text, takes] of steps) {
        owner.takes = takes;
        await type(text);
        const level = owner.level()!;
        expect(level).toBeGreaterThanOrEqual(0);
        expect(level).toBeLessThanOrEqual(100);
        expect(Number(number().value)).toBeCloseTo(level, 1);
      }
    }),
    { numRuns: 60 },
  );
});

test('a number that was only looked at is not offered; one out of range is brought to its limit, and that is said', async () => {
  owner.level.set(100 / 3);
  await fixture.whenStable();
  number().focus();
  number().blur();
  await fixture.whenStable();
  expect(owner.offered).toEqual([]);
  await type('900');
  expect(owner.offered).toEqual([100]);
  expect(find('rondo-number [role=status]').textContent).toBe('Brought to 100, the most.');
  await type('50');
  expect(find('rondo-number [role=status]')).toBeNull();
});

test('a switch that is not taken stays as its owner has it', async () => {
  const box = () => find<HTMLInputElement>('rondo-switch input');
  for (const takes of [false, true]) {
    owner.takes = takes;
    box().click();
    await fixture.whenStable();
    expect(box().checked).toBe(takes);
    expect(owner.on()).toBe(takes);
  }
});

test('a list shows what its owner has: arrows alone choose nothing, what is refused is not shown', async () => {
  const box = () => find('rondo-choice [role=combobox]');
  const press = async (key: string) => {
    box().dispatchEvent(
      new KeyboardEvent('keydown', { key, code: key, bubbles: true, cancelable: true }),
    );
    await fixture.whenStable();
  };
  box().focus();
  await press('ArrowDown');
  await press('ArrowDown');
  expect(owner.offered).toEqual([]);
  expect(box().textContent).toContain('A fader');
  owner.takes = false;
  await press('Enter');
  expect(owner.offered).toHaveLength(1);
  expect(box().textContent).toContain('A fader');
  owner.takes = true;
  await press('ArrowDown');
  await press('ArrowDown');
  await press('Enter');
  expect(box().textContent).toContain(`A ${owner.kind()}`);
  expect(owner.kind()).not.toBe('fader');
});

describe('a text', () => {
  const field = () => find<HTMLInputElement>('input.text');
  const typeIn = (text: string) => {
    field().setRangeText(text, field().selectionStart!, field().selectionEnd!, 'end');
    field().dispatchEvent(new Event('input', { bubbles: true }));
  };

  test('that is chosen whole and changes from behind stays chosen: whoever types replaces all of it', async () => {
    field().focus();
    field().select();
    owner.name.set('Another name');
    await fixture.whenStable();
    typeIn('Mine');
    expect(field().value).toBe('Mine');
  });

  test('that is being typed is not written over; left, it shows what was taken or is put back', async () => {
    field().focus();
    field().select();
    typeIn('Half a na');
    owner.name.set('From elsewhere');
    await fixture.whenStable();
    expect(field().value).toBe('Half a na');
    owner.takes = false;
    field().dispatchEvent(new Event('change'));
    field().blur();
    await fixture.whenStable();
    expect([owner.offered.at(-1), field().value]).toEqual(['Half a na', 'From elsewhere']);
  });
});
