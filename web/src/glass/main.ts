import * as z from 'zod';
import { pagesOf, surfaceSchema, type Control } from '@rondo/core/surface';
import type { FromGlass, GlassRefusal, ToGlass } from '@rondo/core/wire';
import { Fingers, type Point } from './fingers';
import { fitPanel, type Fit } from './fit';
import { readHabits, writeHabits, type Habits } from './habits';
import { habitFields } from './sheet';
import { View } from './view';
import { Way, type Socket, type SocketEvents } from './way';

// Zod would else try `new Function`, which the content security policy forbids.
z.config({ jitless: true });

/** How often one finger's way is told, ms: a screen shows no more. */
const MOVES_EVERY = 12;

const find = (id: string): HTMLElement => document.getElementById(id) as HTMLElement;
const [stage, bar, more, sheet, word] = ['stage', 'bar', 'more', 'sheet', 'word'].map(find);

const REFUSED: Readonly<Record<GlassRefusal, string>> = {
  code: 'This code has been used, or is too old. Show a new one in Rondo, under Ports, and open it here.',
  pause: 'Too many wrong codes. Wait a minute, then show a new code in Rondo and open it here.',
  unknown: 'Rondo does not know this device. Show a code in Rondo, under Ports, and open it here.',
  revoked: 'This device was sent away in Rondo. Show a new code there to let it in again.',
  full: 'Rondo knows as many devices as it can. Send one away there, under Ports.',
  fast: 'Too much came from here at once. Rondo is asked again by itself.',
  busy: 'Rondo is busy just now. It is asked again by itself.',
};

let view: View | null = null;
let fingers: Fingers | null = null;
let fit: Fit = { scale: 1, screens: 1, left: 0, top: 0 };
let screen = 0;
let page = 0;
let habits = readHabits();
const say = (text: string): void => void (word.textContent = text);

const name = (): string => {
  const { userAgent } = navigator;
  const what = /iPad|Tablet/.test(userAgent)
    ? 'Tablet'
    : /Mobile|iPhone|Android/.test(userAgent)
      ? 'Phone'
      : 'Browser';
  return `${what}, ${window.screen.width} × ${window.screen.height}`;
};

function open(events: SocketEvents): Socket {
  const socket = new WebSocket(`ws://${location.host}/glass/socket`);
  socket.onopen = () => events.opened();
  socket.onmessage = ({ data }: MessageEvent<string>) => events.text(data);
  socket.onclose = () => events.closed();
  return socket;
}

say('Joining Rondo …');
const code = location.hash.replace(/^#/, '');
// It is good once: neither the address nor the history keeps it.
history.replaceState(null, '', location.pathname);
const way = new Way(open, localStorage, (work, ms) => void setTimeout(work, ms), code, name(), {
  heard,
  isThere: (there) => {
    if (there) return;
    fingers?.upAll();
    say('Rondo is away. It is asked again by itself.');
  },
  refused: (why) => {
    fingers?.upAll();
    say(REFUSED[why]);
  },
});

/** Ways of fingers that wait to be told, the newest of each control. */
const moves = new Map<string, FromGlass & { kind: 'hand' }>();
let toldAt = -Infinity;
let isTimed = false;

function act(control: Control, does: (FromGlass & { kind: 'hand' })['does'], value: number): void {
  const message = { kind: 'hand', control: control.id, does, value } as const;
  if (does !== 'move') {
    tellMoves();
    way.say(message);
  } else {
    view?.move(control, value);
    moves.set(control.id, message);
    if (performance.now() - toldAt >= MOVES_EVERY) tellMoves();
    else if (!isTimed) {
      isTimed = true;
      setTimeout(tellMoves, MOVES_EVERY);
    }
  }
}

function tellMoves(): void {
  isTimed = false;
  if (moves.size === 0) return;
  toldAt = performance.now();
  for (const message of moves.values()) way.say(message);
  moves.clear();
}

/** The panel that is shown, as it was told. */
let shown = '';

function heard(message: ToGlass & { kind: 'panel' | 'changes' }): void {
  if (message.kind === 'changes') {
    view?.take(message.changes, fingers?.held ?? new Set());
    const turned = message.changes.page ?? page;
    if (turned !== page) {
      page = turned;
      lay();
    }
    return;
  }
  const told = JSON.stringify(message);
  if (told === shown && view) {
    // The same once more, as after the way was broken: fingers that are down stay so.
    say('');
    return;
  }
  shown = told;
  fingers?.upAll();
  stage.replaceChildren();
  view = fingers = null;
  const read = message.surface === undefined ? null : surfaceSchema.safeParse(message.surface);
  if (!read?.success) {
    bar.hidden = true;
    return say(message.why ?? 'Rondo showed something that this page cannot read. Load it again.');
  }
  say('');
  const made = new View(read.data);
  view = made;
  page = 0;
  fingers = new Fingers(
    made.surface,
    () => habits,
    (control) => made.positionOf(control),
    act,
  );
  stage.append(made.svg);
  lay();
}

/** Lays the panel on the screen, and its screens and pages into the bar. */
function lay(): void {
  if (!view) return;
  const { surface } = view;
  const pages = pagesOf(surface).map(
    (_, n) => (n === 0 ? surface.firstPage?.label : surface.pages[n - 1]?.label) ?? `Page ${n + 1}`,
  );
  const width = innerWidth;
  bar.hidden = true;
  fit = fitPanel(surface, width, stage.clientHeight);
  if (fit.screens > 1 || pages.length > 1) {
    bar.hidden = false;
    fit = fitPanel(surface, width, stage.clientHeight);
    // With less height it may be that all of it fits.
    bar.hidden = fit.screens === 1 && pages.length === 1;
  }
  screen = Math.min(screen, fit.screens - 1);
  const most = Math.max(0, surface.width * fit.scale - width);
  const left = fit.screens > 1 ? -Math.min(most, screen * width) : fit.left;
  view.lay(fit.scale, left, fit.top);
  bar.replaceChildren(
    ...Array.from({ length: fit.screens > 1 ? fit.screens : 0 }, (_, n) =>
      button(String(n + 1), n === screen, `Part ${n + 1} of the panel`, () => goTo(n)),
    ),
    ...(pages.length > 1
      ? pages.map((label, n) => button(label, n === page, label, () => turnPage(n)))
      : []),
  );
}

function button(text: string, isNow: boolean, label: string, does: () => void): HTMLElement {
  const made = document.createElement('button');
  made.type = 'button';
  made.textContent = text;
  made.setAttribute('aria-label', label);
  made.setAttribute('aria-current', String(isNow));
  made.addEventListener('click', does);
  return made;
}

function goTo(next: number): void {
  screen = Math.max(0, Math.min(fit.screens - 1, next));
  lay();
}

function turnPage(next: number): void {
  if (!view) return;
  page = Math.max(0, Math.min(pagesOf(view.surface).length - 1, next));
  way.say({ kind: 'hand', control: '', does: 'page', value: page });
  lay();
}

/** A point of the screen on the panel, in millimetres. */
function onPanel({ clientX, clientY }: PointerEvent): Point {
  const box = view?.svg.getBoundingClientRect() ?? { left: 0, top: 0 };
  return { x: (clientX - box.left) / fit.scale, y: (clientY - box.top) / fit.scale };
}

stage.addEventListener('pointerdown', (event) => {
  event.preventDefault();
  closeSheet();
  if (!fingers?.down(event.pointerId, onPanel(event))) return;
  stage.setPointerCapture(event.pointerId);
  view?.hold(fingers.held);
});
stage.addEventListener('pointermove', (event) => fingers?.move(event.pointerId, onPanel(event)));
for (const end of ['pointerup', 'pointercancel', 'lostpointercapture'] as const)
  stage.addEventListener(end, ({ pointerId }) => {
    fingers?.up(pointerId);
    tellMoves();
    if (fingers) view?.hold(fingers.held);
  });
for (const lost of ['blur', 'pagehide'] as const) addEventListener(lost, () => fingers?.upAll());
document.addEventListener('visibilitychange', () => {
  if (document.hidden) fingers?.upAll();
});
// No menu, no zoom and no selection by accident.
for (const accident of ['contextmenu', 'gesturestart', 'dblclick', 'selectstart'])
  document.addEventListener(accident, (event) => event.preventDefault());
addEventListener('resize', () => {
  // A finger that is down would mean another place now.
  fingers?.upAll();
  lay();
});

// A swipe along the bar goes to the next part of the panel, or to the next page.
let swipe: { readonly id: number; readonly x: number } | null = null;
const SWIPE = 40;
bar.addEventListener('pointerdown', ({ pointerId, clientX }) => {
  swipe = { id: pointerId, x: clientX };
});
addEventListener('pointerup', ({ pointerId, clientX }) => {
  if (swipe?.id !== pointerId) return;
  const by = clientX - swipe.x;
  swipe = null;
  if (Math.abs(by) < SWIPE) return;
  const step = by < 0 ? 1 : -1;
  if (fit.screens > 1) goTo(screen + step);
  else turnPage(page + step);
});

function closeSheet(): void {
  sheet.hidden = true;
  more.setAttribute('aria-expanded', 'false');
}

more.addEventListener('click', () => {
  if (!sheet.hidden) return closeSheet();
  const changed = (part: Partial<Habits>) => {
    habits = { ...habits, ...part };
    writeHabits(habits);
  };
  sheet.replaceChildren(...habitFields(habits, changed, closeSheet));
  sheet.hidden = false;
  more.setAttribute('aria-expanded', 'true');
});
