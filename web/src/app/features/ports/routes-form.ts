import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  effect,
  inject,
  input,
  signal,
  viewChildren,
} from '@angular/core';
import { Button } from 'primeng/button';
import {
  addRoute,
  bindingsOn,
  changeRoute,
  endKey,
  endLabel,
  loopOf,
  loopsOf,
  removeRoute,
  routesFrom,
  type Destination,
  type Profile,
  type Route,
  type RouteTerms,
} from '@rondo/core/profile';
import type { RouteTraffic } from '@rondo/core/round';
import { TAKEN } from '../../../midi/protocol';
import { EngineService } from '../../engine/engine.service';
import type { ProfileLink } from '../../engine/profile-links';
import { Choice } from '../../shared/ui/form';
import { NoteNames } from '../../shared/words/note-names';
import { DocumentEditor } from '../../state/documents';
import { LibraryService } from '../../state/library';
import { RouteBands, type Band } from './route-bands';
import { RouteEditor } from './route-editor';
import { clockWords, kindsOf, routeWords, strayNotes } from './route-words';

/** How often what goes along is asked for, ms. */
const ASK_EVERY_MS = 500;

const endOf = (key: string): Destination => {
  const [kind, id] = [key.slice(0, key.indexOf(':')), key.slice(key.indexOf(':') + 1)];
  return kind === 'host' ? { host: id } : { surface: id };
};

interface Input {
  readonly key: string;
  readonly label: string;
  readonly isOsc: boolean;
  readonly routes: readonly {
    readonly id: string;
    readonly route: Route;
    readonly to: string;
    readonly words: string;
    readonly loop: string;
    readonly clock: string;
  }[];
  readonly places: readonly { readonly value: string; readonly label: string }[];
  readonly about: readonly string[];
  /** Programs that a route would let have it too, where another program has its port to itself. */
  readonly past: readonly { readonly value: string; readonly label: string }[];
}

/** Where messages go that come in: a list of sentences for each input, beside it bands as wide as their traffic. */
@Component({
  selector: 'rondo-routes-form',
  imports: [Button, Choice, RouteBands, RouteEditor],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './routes-form.html',
  styleUrl: './routes-form.css',
})
export class RoutesForm {
  readonly profile = input.required<Profile>();
  readonly links = input.required<readonly ProfileLink[]>();
  private readonly engine = inject(EngineService);
  private readonly midi = this.engine.midi;
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  private readonly names = inject(NoteNames);
  private readonly lines = viewChildren<ElementRef<HTMLElement>>('line');
  /** Route whose fields are open, and why its last change was refused. */
  protected readonly open = signal<string | null>(null);
  protected readonly refused = signal('');
  protected readonly endFor = endOf;
  /** Messages a second along each route, and the middle of its line. */
  private readonly rates = signal<Readonly<Record<string, number | undefined>>>({});
  private readonly middles = signal<Readonly<Record<string, number | undefined>>>({});
  protected readonly heights = signal<Readonly<Record<string, number | undefined>>>({});
  private before: { readonly at: number; readonly list: readonly RouteTraffic[] } | null = null;

  protected readonly inputs = computed((): Input[] => {
    const profile = this.profile();
    // Notes are called anew when that changes.
    this.names.octave();
    const loops = loopsOf(profile);
    const traffic = new Map(this.engine.net.routes().map((one) => [one.id, one]));
    const links = this.links();
    const ends = [
      ...profile.surfaceOrder.map((id) => ({ key: `surface:${id}`, end: { surface: id } })),
      ...profile.hostOrder.map((id) => ({ key: `host:${id}`, end: { host: id } })),
    ];
    const isOsc = (key: string) => links.some(({ link, isOsc: osc }) => osc && link === key);
    const placesOf = (key: string) =>
      // What is OSC says nothing to MIDI, nor the other way round.
      ends
        .filter((other) => other.key !== key && isOsc(other.key) === isOsc(key))
        .map((other) => ({ value: other.key, label: endLabel(profile, other.end) }));
    return ends.map(({ key, end }) => ({
      key,
      label: endLabel(profile, end),
      isOsc: isOsc(key),
      routes: routesFrom(profile, end).map((route) => {
        const clock = traffic.get(route.id);
        return {
          id: route.id,
          route,
          to: endLabel(profile, route.to),
          words: routeWords(route, isOsc(key)),
          loop: this.loopWords(loops.get(route.id) ?? null),
          clock: clock && route.kinds.includes('clock') ? clockWords(clock) : '',
        };
      }),
      places: placesOf(key),
      about: this.about(profile, end),
      past: this.isTaken(key)
        ? placesOf(key).filter(
            ({ value }) =>
              value.startsWith('host:') &&
              !routesFrom(profile, end).some(({ to }) => endKey(to) === value),
          )
        : [],
    }));
  });

  constructor() {
    this.engine.net.askRoutes();
    const timer = setInterval(() => this.engine.net.askRoutes(), ASK_EVERY_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
    effect(() => this.measure(this.engine.net.routes()));
    afterRenderEffect({ read: () => this.look(this.lines(), this.inputs(), this.open()) });
  }

  /** Whether another program has the input that was chosen for a surface. */
  private isTaken(link: string): boolean {
    const { real, input } = this.engine.ports.choiceOf(link);
    return real && input !== null && (this.midi.trouble()[input.id] ?? '').includes(TAKEN);
  }

  /** Works out how many messages a second have gone along each route since it was asked before. */
  private measure(list: readonly RouteTraffic[]): void {
    const at = performance.now();
    const { before } = this;
    this.before = { at, list };
    if (!before || at <= before.at) return;
    const earlierOf = new Map(before.list.map((one) => [one.id, one.passed]));
    const seconds = (at - before.at) / 1_000;
    const rates = list.map(({ id, passed }) => [
      id,
      Math.max(0, passed - (earlierOf.get(id) ?? passed)) / seconds,
    ]);
    this.rates.set(Object.fromEntries(rates) as Record<string, number>);
  }

  /** Finds where the lines stand, so that each band ends at its own. */
  private look(lines: readonly ElementRef<HTMLElement>[], _inputs: unknown, _open: unknown): void {
    const middles: Record<string, number> = {};
    const heights: Record<string, number> = {};
    for (const { nativeElement: line } of lines) {
      const { route, input: key } = line.dataset;
      if (route === undefined || key === undefined) continue;
      middles[route] = line.offsetTop + line.offsetHeight / 2;
      heights[key] = Math.max(heights[key] ?? 0, line.offsetTop + line.offsetHeight);
    }
    if (JSON.stringify(middles) === JSON.stringify(this.middles())) return;
    this.middles.set(middles);
    this.heights.set(heights);
  }

  protected bandsOf(row: Input): Band[] {
    return row.routes.map(({ id }) => ({
      id,
      rate: this.rates()[id] ?? 0,
      y: this.middles()[id] ?? 0,
    }));
  }

  /** What the profile and the routes of an input do about each other. */
  private about(profile: Profile, end: Destination): string[] {
    if (!('surface' in end))
      return ['The states that it reports are shown on your surfaces and do not go on.'];
    const id = end.surface as string;
    const bound = bindingsOn(profile, id);
    const words =
      bound > 0
        ? [
            `What its ${bound} binding${bound > 1 ? 's' : ''} take${bound > 1 ? '' : 's'} stays here, unless a binding passes it on.`,
          ]
        : [];
    const surface = this.library.surface(profile.surfaces[id].model);
    const played = routesFrom(profile, end).filter(({ kinds }) => kinds.includes('note'));
    const stray = surface
      ? strayNotes(
          surface,
          profile.surfaces[id].roles ?? { notes: [], clock: false },
          played.map(({ to }) => endLabel(profile, to)),
        )
      : '';
    return stray ? [...words, stray] : words;
  }

  private loopWords(loop: readonly string[] | null): string {
    return loop
      ? `Its messages would go round for ever: ${loop.join(' → ')}. Leave out a kind or a channel on the way.`
      : '';
  }

  /** Opens the fields of a route; what was refused of another is no matter of it. */
  protected show(id: string | null): void {
    this.open.set(id);
    this.refused.set('');
  }

  protected add(row: Input, to: string): void {
    const from = endOf(row.key);
    const all: RouteTerms = { kinds: kindsOf(row.isOsc).filter((kind) => kind !== 'clock') };
    this.editor.edit('profile', (profile) => {
      const route = { ...all, id: '', from, to: endOf(to) };
      const loop = loopOf(profile, route);
      this.refused.set(this.loopWords(loop));
      const added = addRoute(profile, from, route.to, loop ? { kinds: [] } : all);
      this.open.set(added.id);
      return added;
    });
  }

  protected change(id: string, change: Partial<RouteTerms> & { readonly to?: Destination }): void {
    this.editor.edit('profile', (profile) => {
      const changed = changeRoute(profile, id, change);
      const loop = loopOf(changed.document, changed.document.routes[id]);
      this.refused.set(this.loopWords(loop));
      return loop ? { document: profile, edit: null } : changed;
    });
  }

  protected remove(id: string): void {
    this.show(null);
    this.editor.edit('profile', (profile) => removeRoute(profile, id));
  }
}
