import { ChangeDetectionStrategy, Component, computed, effect, signal } from '@angular/core';
import { FOCUS_SLOTS, INSERTS, MARKERS, SCENES, SENDS } from '@rondo/core/host';
import type { Plan } from '@rondo/core/round';
import type { Frame } from '../../engine/frame';
import { LivePicture } from './live-picture';

const STRIPS_A_ROW = 10;
const PAGES = [
  { id: 'mixer', label: 'Mixer' },
  { id: 'focus', label: 'Focus' },
  { id: 'clips', label: 'Clips' },
  { id: 'song', label: 'Song' },
] as const;

/** The Studio: strips, what has focus, transport with markers, clip grid. */
@Component({
  selector: 'rondo-studio-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="host"
      [class.clips-page]="page() === 'clips'"
      role="group"
      [attr.aria-label]="model().name"
      (pointerdown)="onDown($event)"
      (pointermove)="onMove($event)"
      (pointerup)="onUp()"
      (pointercancel)="onUp()"
      (keydown)="onKey($event)"
      (keyup)="onKeyUp($event)"
      (dblclick)="onDouble($event)"
    >
      <div class="transport">
        @for (key of transport; track key.id) {
          <button
            type="button"
            class="key {{ key.id }}"
            [attr.data-address]="key.id"
            [attr.data-kind]="key.kind"
            [attr.data-stays]="key.id === 'play' ? '' : null"
            [attr.aria-label]="key.label"
            [title]="key.label"
            [disabled]="real()"
          >
            {{ key.sign }}
          </button>
        }
        <output class="time mono" data-address="time" data-kind="text" aria-label="Time"></output>
        <output
          class="tempo mono"
          data-address="tempo"
          data-kind="text"
          aria-label="Tempo"
        ></output>
      </div>
      <div class="bar">
        <span class="tabs" role="tablist">
          @for (entry of pages; track entry.id) {
            <button
              type="button"
              role="tab"
              [attr.aria-selected]="page() === entry.id"
              [class.on]="page() === entry.id"
              (click)="page.set(entry.id)"
            >
              {{ entry.label }}
            </button>
          }
        </span>
        @for (n of markers; track n) {
          <button
            type="button"
            class="marker"
            [attr.data-address]="'marker' + n"
            data-kind="trigger"
            [attr.aria-label]="'To marker ' + n"
            [disabled]="real()"
          >
            {{ n }}
          </button>
        }
        <button
          type="button"
          class="marker"
          data-address="markerAdd"
          data-kind="trigger"
          aria-label="Add a marker"
          title="Add a marker"
          [disabled]="real()"
        >
          +
        </button>
        <span class="place" data-address="markerName" data-kind="text"></span>
      </div>
      @switch (page()) {
        @case ('focus') {
          <div class="focus">
            <div class="head">
              <button
                type="button"
                data-address="focusPrevious"
                data-kind="trigger"
                aria-label="Previous insert"
                [disabled]="real()"
              >
                ◂
              </button>
              <b data-address="focusName" data-kind="text"></b>
              <button
                type="button"
                data-address="focusNext"
                data-kind="trigger"
                aria-label="Next insert"
                [disabled]="real()"
              >
                ▸
              </button>
              <button type="button" data-address="focusOn" data-kind="toggle" [disabled]="real()">
                On
              </button>
              <span>Page</span>
              <button
                type="button"
                class="wide"
                data-address="focusPage"
                data-kind="choice"
                aria-label="Page of parameters"
                [disabled]="real()"
              ></button>
            </div>
            @for (n of slots; track n) {
              <div class="parameter">
                <span [attr.data-address]="'focusText' + n" data-kind="text"></span>
                <div
                  class="pan"
                  role="slider"
                  aria-valuenow="0"
                  aria-valuemin="-100"
                  aria-valuemax="100"
                  [attr.tabindex]="real() ? -1 : 0"
                  [attr.aria-label]="'Parameter ' + n + ' of what has focus'"
                  [attr.data-address]="'focus' + n"
                  data-kind="pan"
                >
                  <i></i>
                </div>
              </div>
            }
            <h3>The selected track</h3>
            @for (send of sends; track send.id) {
              <div class="parameter">
                <span
                  >Send to {{ send.bus }}
                  <span class="mono" [attr.data-address]="send.id" data-kind="text"></span
                ></span>
                <div
                  class="pan"
                  role="slider"
                  aria-valuenow="0"
                  aria-valuemin="-100"
                  aria-valuemax="100"
                  [attr.tabindex]="real() ? -1 : 0"
                  [attr.aria-label]="'Send to ' + send.bus"
                  [attr.data-address]="send.id"
                  data-kind="pan"
                >
                  <i></i>
                </div>
              </div>
            }
            <div class="head">
              <span>Automation</span>
              <button
                type="button"
                class="wide"
                data-address="automation/selected"
                data-kind="choice"
                aria-label="Automation state"
                [disabled]="real()"
              ></button>
              @for (insert of inserts; track insert.id) {
                <button
                  type="button"
                  [attr.data-address]="insert.id"
                  data-kind="toggle"
                  [disabled]="real()"
                >
                  {{ insert.name }}
                </button>
              }
            </div>
            <div class="head">
              @for (key of edits; track key.id) {
                <button
                  type="button"
                  [attr.data-address]="key.id"
                  [attr.data-kind]="key.kind"
                  [disabled]="real()"
                >
                  {{ key.label }}
                </button>
              }
            </div>
          </div>
        }
        @case ('clips') {
          <div class="clips">
            @for (scene of scenes; track scene) {
              @for (track of tracks(); track track.index) {
                <button
                  type="button"
                  class="cell"
                  [attr.data-address]="address('clip' + scene, track.index)"
                  data-kind="cell"
                  [attr.aria-label]="'Clip ' + scene + ' of ' + track.name"
                  [disabled]="real()"
                ></button>
              }
              <button
                type="button"
                class="scene"
                [attr.data-address]="'scene' + scene"
                data-kind="trigger"
                [attr.aria-label]="'Scene ' + scene"
                [disabled]="real()"
              >
                ▸{{ scene }}
              </button>
            }
            @for (track of tracks(); track track.index) {
              <span class="under" [title]="track.name">{{ track.name }}</span>
            }
            <button
              type="button"
              class="scene"
              data-address="clipStopAll"
              data-kind="trigger"
              aria-label="Stop all clips"
              [disabled]="real()"
            >
              ■
            </button>
          </div>
          <div class="head cells">
            <button
              type="button"
              class="wide"
              data-address="cellTrack"
              data-kind="choice"
              aria-label="Chosen cell: track"
              [disabled]="real()"
            ></button>
            <button
              type="button"
              class="wide"
              data-address="cellScene"
              data-kind="choice"
              aria-label="Chosen cell: scene"
              [disabled]="real()"
            ></button>
            <b data-address="cellName" data-kind="text"></b>
            <span>Enter</span>
            <button
              type="button"
              class="wide"
              data-address="noteEnter"
              data-kind="choice"
              aria-label="Enter a note"
              [disabled]="real()"
            ></button>
            <button type="button" data-address="restEnter" data-kind="trigger" [disabled]="real()">
              Rest
            </button>
          </div>
          <div class="head">
            @for (key of clipEdits; track key.id) {
              <button
                type="button"
                [attr.data-address]="key.id"
                data-kind="trigger"
                [disabled]="real()"
              >
                {{ key.label }}
              </button>
            }
          </div>
        }
        @case ('song') {
          <div class="focus">
            @for (line of songLines; track line.id) {
              <div class="parameter">
                <span
                  >{{ line.label }}
                  <span class="mono" [attr.data-address]="line.id" data-kind="text"></span
                ></span>
                <div
                  class="pan"
                  role="slider"
                  aria-valuenow="0"
                  aria-valuemin="-100"
                  aria-valuemax="100"
                  [attr.tabindex]="real() ? -1 : 0"
                  [attr.aria-label]="line.label"
                  [attr.data-address]="line.id"
                  data-kind="pan"
                >
                  <i></i>
                </div>
              </div>
            }
            <div class="head">
              @for (key of songKeys; track key.id) {
                <button
                  type="button"
                  [attr.data-address]="key.id"
                  data-kind="trigger"
                  [disabled]="real()"
                >
                  {{ key.label }}
                </button>
              }
            </div>
            <h3>User actions</h3>
            <div class="head">
              @for (n of slots; track n) {
                <button
                  type="button"
                  [attr.data-address]="'user' + n"
                  data-kind="trigger"
                  [attr.aria-label]="'User action ' + n"
                  [disabled]="real()"
                >
                  {{ n }}
                </button>
              }
              <span data-address="lastAction" data-kind="text"></span>
            </div>
          </div>
        }
        @default {
          @for (row of rows(); track $index) {
            <div class="row">
              @for (strip of row; track strip.n) {
                <div class="strip {{ strip.group }}" [attr.data-strip]="strip.index">
                  <span class="reach"
                    ><b>{{ mark() }}</b></span
                  >
                  <button
                    type="button"
                    class="name"
                    [attr.data-address]="address('select', strip.index)"
                    data-kind="toggle"
                    [title]="strip.name"
                    [attr.aria-label]="'Select ' + strip.name"
                    [disabled]="real()"
                  >
                    {{ strip.name }}
                  </button>
                  <div
                    class="pan"
                    role="slider"
                    aria-valuenow="0"
                    [attr.tabindex]="real() ? -1 : 0"
                    [attr.aria-label]="'Pan of ' + strip.name"
                    aria-valuemin="-100"
                    aria-valuemax="100"
                    [attr.data-address]="address('pan', strip.index)"
                    data-kind="pan"
                  >
                    <i></i>
                  </div>
                  <div class="travel">
                    <div
                      class="fader"
                      role="slider"
                      aria-valuenow="0"
                      [attr.tabindex]="real() ? -1 : 0"
                      aria-orientation="vertical"
                      aria-valuemin="0"
                      aria-valuemax="100"
                      [attr.aria-label]="'Volume of ' + strip.name"
                      [attr.data-address]="address('volume', strip.index)"
                      data-kind="fader"
                    >
                      <i></i>
                    </div>
                    <div
                      class="meter"
                      [attr.data-address]="address('meter', strip.index)"
                      data-kind="meter"
                    >
                      <i></i>
                    </div>
                  </div>
                  <span
                    class="level mono"
                    [attr.data-address]="address('volume', strip.index)"
                    data-kind="text"
                  ></span>
                  <div class="keys">
                    @for (key of strip.keys; track key.id) {
                      <button
                        type="button"
                        class="small {{ key.id }}"
                        [attr.data-address]="address(key.id, strip.index)"
                        data-kind="toggle"
                        [attr.aria-label]="key.label + ' ' + strip.name"
                        [disabled]="real()"
                      >
                        {{ key.sign }}
                      </button>
                    }
                  </div>
                </div>
              }
            </div>
          }
        }
      }
    </div>
  `,
  styleUrl: './picture.css',
})
export class StudioPicture extends LivePicture {
  protected readonly pages = PAGES;
  protected readonly page = signal<(typeof PAGES)[number]['id']>('mixer');
  protected readonly slots = Array.from({ length: FOCUS_SLOTS }, (_, i) => i + 1);
  protected readonly markers = Array.from({ length: MARKERS }, (_, i) => i + 1);
  protected readonly scenes = Array.from({ length: SCENES }, (_, i) => i + 1);
  protected readonly sends = SENDS.map((bus, i) => ({ bus, id: `send${i + 1}/selected` }));
  protected readonly inserts = INSERTS.map(({ name }, i) => ({
    name,
    id: `insert${i + 1}On/selected`,
  }));
  protected readonly transport = [
    { id: 'toStart', sign: '⇤', label: 'To the start', kind: 'trigger' },
    { id: 'rewind', sign: '◂◂', label: 'Back one bar', kind: 'trigger' },
    { id: 'forward', sign: '▸▸', label: 'On one bar', kind: 'trigger' },
    { id: 'stop', sign: '■', label: 'Stop', kind: 'toggle' },
    { id: 'play', sign: '▶', label: 'Play', kind: 'toggle' },
    { id: 'record', sign: '●', label: 'Record', kind: 'toggle' },
    { id: 'loop', sign: '↻', label: 'Loop', kind: 'toggle' },
    { id: 'punch', sign: '⇥', label: 'Punch', kind: 'toggle' },
    { id: 'click', sign: '♩', label: 'Click', kind: 'toggle' },
  ];
  protected readonly edits = [
    { id: 'undo', label: 'Undo', kind: 'trigger' },
    { id: 'redo', label: 'Redo', kind: 'trigger' },
    { id: 'save', label: 'Save', kind: 'trigger' },
    { id: 'tapTempo', label: 'Tap tempo', kind: 'trigger' },
  ];
  protected readonly songLines = [
    { id: 'tempo', label: 'Tempo' },
    { id: 'loopStart', label: 'Loop start' },
    { id: 'loopEnd', label: 'Loop end' },
    { id: 'punchIn', label: 'Punch in' },
    { id: 'punchOut', label: 'Punch out' },
    { id: 'zoomAcross', label: 'Zoom across' },
    { id: 'zoomDown', label: 'Zoom down' },
  ];
  protected readonly songKeys = [
    { id: 'markerPrevious', label: 'Previous marker' },
    { id: 'markerNext', label: 'Next marker' },
    { id: 'markerAdd', label: 'Add a marker' },
    { id: 'tapTempo', label: 'Tap tempo' },
    { id: 'undo', label: 'Undo' },
    { id: 'redo', label: 'Redo' },
    { id: 'save', label: 'Save' },
  ];
  protected readonly clipEdits = [
    { id: 'clipInsert', label: 'Insert' },
    { id: 'clipCopy', label: 'Copy' },
    { id: 'clipPaste', label: 'Paste' },
    { id: 'clipDuplicate', label: 'Duplicate' },
    { id: 'clipSplit', label: 'Split' },
    { id: 'clipQuantise', label: 'Quantise' },
    { id: 'clipDelete', label: 'Delete' },
  ];
  protected readonly rows = computed(() => {
    const model = this.model();
    const has = (id: string, strip: number) =>
      Boolean(model.functions.find((fn) => fn.id === id)?.messages[strip]);
    const strips = model.strips.map(({ name, group }, index) => ({
      n: index + 1,
      index,
      name,
      group,
      keys: [
        { id: 'mute', sign: 'M', label: 'Mute' },
        ...(has('solo', index) ? [{ id: 'solo', sign: 'S', label: 'Solo' }] : []),
        ...(has('arm', index) ? [{ id: 'arm', sign: 'R', label: 'Arm' }] : []),
      ],
    }));
    return Array.from({ length: Math.ceil(strips.length / STRIPS_A_ROW) }, (_, row) =>
      strips.slice(row * STRIPS_A_ROW, (row + 1) * STRIPS_A_ROW),
    );
  });
  protected readonly tracks = computed(() =>
    this.model().strips.flatMap(({ name, group }, index) =>
      group === 'track' ? [{ name, index }] : [],
    ),
  );
  private strips: HTMLElement[] = [];
  private reached = '';

  constructor() {
    super();
    effect(() => {
      this.page();
      this.changed();
    });
  }

  protected override collected(_plan: Plan): void {
    this.reached = '';
    this.strips = [...this.root.querySelectorAll<HTMLElement>('[data-strip]')];
  }

  /** A thin bracket over the strips that the surface's motors and lights reach now. */
  protected override painted(frame: Frame): void {
    if (this.strips.length === 0) return;
    const now = this.reachedStrips(frame);
    const key = [...now].sort((a, b) => a - b).join(' ');
    if (key === this.reached) return;
    this.reached = key;
    this.strips.forEach((element, strip) => {
      const first = !now.has(strip - 1) || strip % STRIPS_A_ROW === 0;
      const last = !now.has(strip + 1) || strip % STRIPS_A_ROW === STRIPS_A_ROW - 1;
      element.classList.toggle('reached', now.has(strip));
      element.classList.toggle('first', now.has(strip) && first);
      element.classList.toggle('last', now.has(strip) && last);
    });
  }
}
