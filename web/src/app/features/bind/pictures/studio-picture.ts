import { ChangeDetectionStrategy, Component, computed, effect, signal } from '@angular/core';
import { FOCUS_SLOTS, INSERTS, MARKERS, SCENES, SENDS } from '@rondo/core/host';
import type { PlainPlan } from '@rondo/core/round';
import { SlotField, type Frame } from '../../../engine/frame';
import { Hands } from '../../../shared/ui/hands';
import { LivePicture } from './live-picture';
import { ReachBrackets } from './reach';
import { Key, Slide } from './playable';

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
  imports: [Hands, Key, ReachBrackets, Slide],
  providers: [{ provide: LivePicture, useExisting: StudioPicture }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="host"
      [class.clips-page]="page() === 'clips'"
      role="group"
      [attr.aria-label]="model().name"
      [rondoHands]="this"
      (dblclick)="onDouble($event)"
    >
      <div class="transport">
        @for (key of transport; track key.id) {
          <button
            class="key {{ key.id }}"
            [attr.data-stays]="key.id === 'play' ? '' : null"
            [title]="key.label"
            [rondoKey]="key.id"
            [shape]="key.kind"
            [label]="key.label"
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
              (click)="show(entry.id)"
            >
              {{ entry.label }}
            </button>
          }
        </span>
        @for (n of markers; track n) {
          <button
            class="marker"
            [rondoKey]="'marker' + n"
            shape="trigger"
            [label]="'To marker ' + n"
          >
            {{ n }}
          </button>
        }
        <button
          class="marker"
          title="Add a marker"
          rondoKey="markerAdd"
          shape="trigger"
          label="Add a marker"
        >
          +
        </button>
        <span class="place" data-address="markerName" data-kind="text"></span>
      </div>
      @switch (page()) {
        @case ('focus') {
          <div class="focus">
            <div class="head">
              <button rondoKey="focusPrevious" shape="trigger" label="Previous insert">◂</button>
              <b data-address="focusName" data-kind="text"></b>
              <button rondoKey="focusNext" shape="trigger" label="Next insert">▸</button>
              <button rondoKey="focusOn" shape="toggle">On</button>
              <span>Page</span>
              <button
                class="wide"
                rondoKey="focusPage"
                shape="choice"
                label="Page of parameters"
              ></button>
            </div>
            @for (n of slots; track n) {
              <div class="parameter">
                <span [attr.data-address]="'focusText' + n" data-kind="text"></span>
                <div
                  class="pan"
                  [rondoSlide]="'focus' + n"
                  [label]="'Parameter ' + n + ' of the plug-in in focus'"
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
                <div class="pan" [rondoSlide]="send.id" [label]="'Send to ' + send.bus">
                  <i></i>
                </div>
              </div>
            }
            <div class="head">
              <span>Automation</span>
              <button
                class="wide"
                rondoKey="automation/selected"
                shape="choice"
                label="Automation state"
              ></button>
              @for (insert of inserts; track insert.id) {
                <button [rondoKey]="insert.id" shape="toggle">
                  {{ insert.name }}
                </button>
              }
            </div>
            <div class="head">
              @for (key of edits; track key.id) {
                <button [rondoKey]="key.id" [shape]="key.kind">
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
                  class="cell"
                  [rondoKey]="address('clip' + scene, track.index)"
                  shape="cell"
                  [label]="'Clip ' + scene + ' of ' + track.name"
                ></button>
              }
              <button
                class="scene"
                [rondoKey]="'scene' + scene"
                shape="trigger"
                [label]="'Scene ' + scene"
              >
                ▸{{ scene }}
              </button>
            }
            @for (track of tracks(); track track.index) {
              <span class="under" [title]="track.name">{{ track.name }}</span>
            }
            <button class="scene" rondoKey="clipStopAll" shape="trigger" label="Stop all clips">
              ■
            </button>
          </div>
          <div class="head cells">
            <button
              class="wide"
              rondoKey="cellTrack"
              shape="choice"
              label="Chosen cell: track"
            ></button>
            <button
              class="wide"
              rondoKey="cellScene"
              shape="choice"
              label="Chosen cell: scene"
            ></button>
            <b data-address="cellName" data-kind="text"></b>
            <span>Enter</span>
            <button class="wide" rondoKey="noteEnter" shape="choice" label="Enter a note"></button>
            <button rondoKey="restEnter" shape="trigger">Rest</button>
          </div>
          <div class="head">
            @for (key of clipEdits; track key.id) {
              <button [rondoKey]="key.id" shape="trigger">
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
                <div class="pan" [rondoSlide]="line.id" [label]="line.label">
                  <i></i>
                </div>
              </div>
            }
            <div class="head">
              @for (key of songKeys; track key.id) {
                <button [rondoKey]="key.id" shape="trigger">
                  {{ key.label }}
                </button>
              }
            </div>
            <h3>User actions</h3>
            <div class="head">
              @for (n of slots; track n) {
                <button [rondoKey]="'user' + n" shape="trigger" [label]="'User action ' + n">
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
                  <rondo-reach [reaches]="reaches()" [strip]="strip.index" [inRow]="inRow" />
                  <button
                    class="name"
                    [title]="strip.name"
                    [rondoKey]="address('select', strip.index)"
                    shape="toggle"
                    [label]="'Select ' + strip.name"
                  >
                    {{ strip.name }}
                  </button>
                  <div
                    class="pan"
                    [rondoSlide]="address('pan', strip.index)"
                    [label]="'Pan of ' + strip.name"
                  >
                    <i></i>
                  </div>
                  <div class="travel">
                    <div
                      class="fader"
                      [rondoSlide]="address('volume', strip.index)"
                      [label]="'Volume of ' + strip.name"
                      shape="fader"
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
                        class="small {{ key.id }}"
                        [rondoKey]="address(key.id, strip.index)"
                        shape="toggle"
                        [label]="key.label + ' ' + strip.name"
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
    { id: 'forward', sign: '▸▸', label: 'Forward one bar', kind: 'trigger' },
    { id: 'stop', sign: '■', label: 'Stop', kind: 'toggle' },
    { id: 'play', sign: '▶', label: 'Play', kind: 'toggle' },
    { id: 'record', sign: '●', label: 'Record', kind: 'toggle' },
    { id: 'loop', sign: '↻', label: 'Loop', kind: 'toggle' },
    { id: 'punch', sign: '⇥', label: 'Punch', kind: 'toggle' },
    { id: 'click', sign: '♩', label: 'Click', kind: 'toggle' },
  ] as const;
  protected readonly edits = [
    { id: 'undo', label: 'Undo', kind: 'trigger' },
    { id: 'redo', label: 'Redo', kind: 'trigger' },
    { id: 'save', label: 'Save', kind: 'trigger' },
    { id: 'tapTempo', label: 'Tap tempo', kind: 'trigger' },
  ] as const;
  protected readonly songLines = [
    { id: 'tempo', label: 'Tempo' },
    { id: 'loopStart', label: 'Loop start' },
    { id: 'loopEnd', label: 'Loop end' },
    { id: 'punchIn', label: 'Punch in' },
    { id: 'punchOut', label: 'Punch out' },
    { id: 'zoomAcross', label: 'Zoom in time' },
    { id: 'zoomDown', label: 'Zoom in height' },
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
  protected readonly inRow = STRIPS_A_ROW;
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
  /** Slot of the view that the host has in front, and what it was last. */
  private front = -1;
  private frontWas = NaN;

  constructor() {
    super();
    effect(() => {
      this.page();
      this.changed();
    });
  }

  /** Brings a view to the front: here, and in the host, which lights and layers may follow. */
  protected show(page: (typeof PAGES)[number]['id']): void {
    this.page.set(page);
    const at = PAGES.findIndex(({ id }) => id === page);
    this.set(this.address('front', -1), at / (PAGES.length - 1));
  }

  protected override collected(plan: PlainPlan): void {
    this.front = plan.slots.findIndex(({ key }) => key === `${this.hostId()}/front`);
  }

  /** Shows the view that the host has brought to the front. */
  private follow(frame: Frame): void {
    if (this.front < 0 || frame.slot(this.front, SlotField.Know) === 0) return;
    const value = frame.slot(this.front, SlotField.Value);
    if (value === this.frontWas) return;
    this.frontWas = value;
    this.page.set(PAGES[Math.round(value * (PAGES.length - 1))].id);
  }

  protected override painted(frame: Frame): void {
    this.follow(frame);
  }
}
