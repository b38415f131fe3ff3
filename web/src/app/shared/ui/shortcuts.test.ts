import {
  ApplicationRef,
  Component,
  ElementRef,
  Injector,
  afterNextRender,
  inject,
  runInInjectionContext,
  signal,
} from '@angular/core';
import { TestBed } from '@angular/core/testing';
import fc from 'fast-check';
import { Shortcuts } from './shortcuts';

const done: string[] = [];
const shortcut = (keys: string, when?: () => boolean) => ({
  keys: [keys],
  shown: keys,
  does: keys,
  run: () => void done.push(keys),
  ...(when && { when }),
});
const press = (target: Element, key: string, more: KeyboardEventInit = {}): boolean =>
  target.dispatchEvent(
    new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }),
  );

let shortcuts: Shortcuts;
beforeEach(() => {
  done.length = 0;
  document.body.innerHTML = '';
  localStorage.clear();
  shortcuts = TestBed.inject(Shortcuts);
});
const add = (...list: ReturnType<typeof shortcut>[]) =>
  runInInjectionContext(TestBed.inject(Injector), () => shortcuts.add('Test', list));

/** A field that takes the keyboard as it appears. */
@Component({ selector: 'rondo-taker', template: '<input />' })
class Taker {
  constructor() {
    const { nativeElement } = inject<ElementRef<HTMLElement>>(ElementRef);
    afterNextRender(() => nativeElement.querySelector('input')?.focus());
  }
}
@Component({
  imports: [Taker],
  template: `
    <button (click)="open.set(!open())">Open or close</button>
    @if (open()) {
      <rondo-taker (keydown.enter)="open.set(false)" (keydown.escape)="open.set(false)" />
    }
  `,
})
class Opener {
  readonly open = signal(false);
}

test('what a key or a click opens or closes has the keyboard, or has it no more, before the next key comes', async () => {
  const fixture = TestBed.createComponent(Opener);
  document.body.append(fixture.nativeElement as Element);
  TestBed.inject(ApplicationRef).attachView(fixture.componentRef.hostView);
  fixture.detectChanges();
  add(
    { ...shortcut('/'), run: () => void fixture.componentInstance.open.set(true) },
    shortcut('s'),
  );
  const button = document.querySelector('button')!;
  const hand = fc.constantFrom('/', 's', 'Enter', 'Escape', 'click');
  await fc.assert(
    fc.asyncProperty(fc.array(hand, { maxLength: 12 }), async (hands) => {
      // A turn of the loop between the cases, and none within one.
      await new Promise((done) => setTimeout(done));
      let open = fixture.componentInstance.open();
      for (const hand of hands) {
        done.length = 0;
        if (hand === 'click') button.click();
        else press(document.activeElement!, hand);
        expect(done).toEqual(hand === 's' && !open ? ['s'] : []);
        if (hand === 'click') open = !open;
        else if (hand !== 's') open = hand === '/';
      }
    }),
  );
  fixture.destroy();
});

/** Everything that takes keys for itself. */
const FIELDS = [
  '<input>',
  '<input type="search">',
  '<input type="number">',
  '<textarea></textarea>',
  '<select><option>a</option></select>',
  '<div tabindex="0" role="combobox"></div>',
  '<div role="listbox"><div tabindex="0" role="option"></div></div>',
  '<ul role="menu"><li tabindex="0" role="menuitem"></li></ul>',
  '<div role="dialog"><button>a</button></div>',
  '<div tabindex="0" role="spinbutton"></div>',
];

test('while a field, list, menu or dialog has the keyboard no letter does anything', () => {
  add(shortcut('s'), shortcut('h'), shortcut('/'));
  fc.assert(
    fc.property(fc.constantFrom(...FIELDS), fc.constantFrom('s', 'h', '/'), (html, key) => {
      document.body.innerHTML = html;
      const target = document.querySelector('input, textarea, select, [tabindex], button')!;
      expect(press(target, key)).toBe(true);
      expect(done).toEqual([]);
    }),
  );
  press(document.body, 's');
  expect(done).toEqual(['s']);
});

test('a closed list takes letters and no commands; an open one takes both', () => {
  add(shortcut('s'), shortcut('$mod+z'));
  document.body.innerHTML = '<span tabindex="0" role="combobox" aria-expanded="false"></span>';
  const list = document.querySelector('span')!;
  press(list, 's');
  press(list, 'z', { ctrlKey: true });
  expect(done).toEqual(['$mod+z']);
  list.setAttribute('aria-expanded', 'true');
  press(list, 'z', { ctrlKey: true });
  expect(done).toEqual(['$mod+z']);
});

test('what is open is asked first, and lets through what does not concern it', () => {
  let isOpen = true;
  add(shortcut('Delete'));
  const below = done.length;
  add({ ...shortcut('Delete', () => isOpen), run: () => void done.push('inner') });
  press(document.body, 'Delete');
  isOpen = false;
  press(document.body, 'Delete');
  expect(done.slice(below)).toEqual(['inner', 'Delete']);
});

test('single characters can be switched off, and stay so; what has a modifier goes on (WCAG 2.1.4)', () => {
  add(shortcut('s'), shortcut('$mod+z'));
  shortcuts.setSingle(false);
  press(document.body, 's');
  press(document.body, 'z', { ctrlKey: true });
  expect(done).toEqual(['$mod+z']);
  expect(localStorage.getItem('rondo.singleKeys')).toBe('off');
});
