import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { readFileText, type Palette } from '@rondo/core/formats';
import {
  LIGHT_KINDS,
  changeSurface,
  findingsOf,
  lightTarget,
  outputsOf,
  readPalette,
  type Surface,
} from '@rondo/core/surface';
import { fromHex } from '@rondo/core/wire';
import { DocumentEditor } from '../../state/documents';
import { IncomingFile } from '../../state/incoming-file';
import { SaveAlone } from '../../shared/ui/save-alone';
import { ReturnsForm, applyReturns, type ReturnsChange } from '../../shared/ui/returns-form';
import { FeelForm } from './feel-form';
import { Choice, NumberField, Switch, TextField } from '../../shared/ui/form';
import { InputText } from 'primeng/inputtext';
import { Textarea } from 'primeng/textarea';

const WIRES = [
  { value: 'usb', label: 'USB', bytes: 60_000 },
  { value: 'din', label: 'DIN, 31 250 bit/s', bytes: 3_125 },
  { value: 'network', label: 'Network, by OSC', bytes: 1_000_000 },
] as const;
const MOST_SHOWN = 256;
const LIGHTS = [
  { value: '', label: 'by its table of colours; without one, on and off' },
  { value: 'onOff', label: 'on and off' },
  { value: 'brightness', label: 'brighter and darker' },
  { value: 'palette', label: 'colours by their numbers' },
] as const;
/** Bytes of a table of colours. */
const LARGEST_TABLE = 1_000_000;

/** What the device can and cannot do: its wire, its pages, its palette, the lines that its owner adds. */
@Component({
  selector: 'rondo-device-form',
  imports: [
    Choice,
    FeelForm,
    InputText,
    NumberField,
    ReturnsForm,
    SaveAlone,
    Switch,
    Textarea,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section>
      <h2>The device</h2>
      <rondo-switch [on]="device().sends" (turned)="set('sends', $event)">
        It sends messages
      </rondo-switch>
      <rondo-switch [on]="device().takes" (turned)="set('takes', $event)">
        It takes messages (lights, motors, text). Without that no feedback is offered.
      </rondo-switch>
      <div class="row">
        <span class="cap">
          Connected by
          <rondo-choice
            label="Connected by"
            [options]="wires"
            [value]="device().wire"
            (chosen)="setWire($event)"
          />
        </span>
        <span class="cap">
          Bytes a second at most
          <rondo-number
            label="Bytes a second at most"
            [min]="100"
            [max]="10000000"
            [step]="100"
            [value]="device().bytesPerSecond"
            (changed)="setRate($event ?? 3125)"
          />
        </span>
      </div>
      <div class="row">
        <span class="cap">
          Panel width, mm
          <rondo-number
            label="Panel width, mm"
            [min]="20"
            [max]="5000"
            [digits]="1"
            [value]="surface().width"
            (changed)="setSize('width', $event)"
          />
        </span>
        <span class="cap">
          Panel height, mm
          <rondo-number
            label="Panel height, mm"
            [min]="20"
            [max]="5000"
            [digits]="1"
            [value]="surface().height"
            (changed)="setSize('height', $event)"
          />
        </span>
      </div>
      <label>
        About it
        <textarea
          pTextarea
          pSize="small"
          #about
          rows="2"
          maxlength="200"
          [rondoText]="surface().about"
          (change)="setAbout(about.value)"
        ></textarea>
      </label>
      <h3>Who it says it is</h3>
      @if (device().identity; as who) {
        <p>
          Manufacturer {{ who.manufacturer }}, family {{ who.family }}, member {{ who.member }}.
          Rondo knows it again by that, whatever its port is called.
          <button type="button" (click)="forget()">Forget</button>
        </p>
      } @else {
        <p class="quiet">
          Not known yet. On the Ports screen ask a port who it is, and say that it is this surface.
        </p>
      }
    </section>
    <section><rondo-feel-form [surface]="surface()" /></section>

    <section>
      <h2>Onboard pages</h2>
      <p class="quiet">
        Presets of the device that change what its controls send. Teach each page by itself.
      </p>
      <ul>
        @for (page of pages(); track $index; let i = $index) {
          <li class="row">
            <label>
              Name
              <input
                pInputText
                pSize="small"
                #label
                [rondoText]="page.label"
                (change)="setPage(i, 'label', label.value)"
              />
            </label>
            <label class="grow">
              The device says so by (hex)
              <input
                pInputText
                pSize="small"
                #enter
                class="mono"
                placeholder="C0 01, or nothing"
                [rondoText]="page.enter ?? ''"
                (change)="setPage(i, 'enter', enter.value)"
              />
            </label>
            @if (i > 0) {
              <button type="button" (click)="removePage(i)">Remove</button>
            }
          </li>
        }
      </ul>
      <button type="button" (click)="addPage()">Add a page</button>

      <h2>Lines for the device sheet</h2>
      <ul>
        @for (note of device().notes; track $index; let i = $index) {
          <li class="row">
            <label class="grow">
              <span class="visually-hidden">Line {{ i + 1 }}</span>
              <input
                pInputText
                pSize="small"
                #line
                maxlength="200"
                [rondoText]="note"
                (change)="setNote(i, line.value)"
              />
            </label>
            <button type="button" (click)="setNote(i, '')">Remove</button>
          </li>
        }
      </ul>
      <button type="button" (click)="addNote()">Add a line</button>
    </section>

    <section>
      <h2>Palette</h2>
      @if (device().palette.length === 0) {
        <p class="quiet">No colours: its lights are on or off, nothing between.</p>
      } @else {
        <p class="quiet">The numbers by which its lights take a colour.</p>
      }
      @for (finding of paletteFindings(); track finding.says) {
        <p class="fault" role="status">{{ finding.says }}</p>
      }
      <ul class="palette">
        @for (entry of shown(); track $index; let i = $index) {
          <li>
            <input
              #colour
              type="color"
              [attr.aria-label]="'Colour of number ' + entry.value"
              [value]="entry.colour"
              (change)="setColour(i, colour.value)"
            />
            <rondo-number
              [label]="'Number of colour ' + (i + 1)"
              [min]="0"
              [max]="16383"
              [value]="entry.value"
              (changed)="setNumber(i, $event)"
            />
            <button
              type="button"
              [attr.aria-label]="'Remove colour ' + entry.value"
              (click)="removeColour(i)"
            >
              ×
            </button>
          </li>
        }
      </ul>
      @if (device().palette.length > shown().length) {
        <p class="quiet">
          {{ device().palette.length - shown().length }} more are kept and not shown here.
        </p>
      }
      <div class="row">
        <button type="button" (click)="addColour()">Add a colour</button>
        <label class="file">
          Read a table (CSV) or a file of Rondo’s
          <input
            #file
            type="file"
            accept=".csv,.json,text/csv,text/plain,application/json"
            aria-label="Read a table of colours from CSV or from a file of Rondo’s"
            (change)="readTable(file)"
          />
        </label>
        @if (device().palette.length > 0) {
          <rondo-save-alone [name]="surface().name + ' palette'" [what]="palettes" />
        }
      </div>
      <p class="quiet">A line for each: number, #rrggbb, name; or number, red, green, blue.</p>
      @if (tableSays(); as says) {
        <p class="fault" role="status">{{ says }}</p>
      }
    </section>

    @if (outputs().length > 0) {
      <section>
        <h2>What comes back</h2>
        <p class="quiet">What profiles inherit from this surface, for all its controls.</p>
        @if (hasLights()) {
          <span class="cap">
            Its lights
            <rondo-choice
              label="What its lights can do"
              [options]="lights"
              [value]="device().light ?? ''"
              (chosen)="setLight($event)"
            />
          </span>
          <rondo-switch [on]="device().neverDark ?? false" (turned)="setNeverDark($event)">
            They never go dark: off is the dimmest
          </rondo-switch>
        }
        <rondo-returns-form
          level="surface"
          [levels]="{ surface: surface().returns }"
          [parts]="outputs()"
          [target]="target()"
          [names]="{ surface: 'this surface' }"
          (changed)="setReturns($event)"
        />
      </section>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 1fr 1.1fr 1fr;
      height: 100%;
      min-height: 0;
      background: var(--sheet);
    }
    section {
      min-width: 0;
      padding: 16px 20px;
      overflow: auto;
      border-right: 1px solid var(--line);
    }
    h2 {
      margin-bottom: 8px;
      font-size: 16px;
    }
    h2:not(:first-child) {
      margin-top: 22px;
    }
    h3 {
      margin: 16px 0 4px;
      font-size: 14px;
    }
    ul {
      margin: 0 0 8px;
      padding: 0;
      list-style: none;
    }
    .row {
      display: flex;
      align-items: end;
      gap: 10px;
      margin-bottom: 8px;
    }
    .grow {
      flex: 1;
    }
    label {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    textarea {
      resize: vertical;
    }
    button {
      min-height: 30px;
      padding: 2px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      font-size: 13px;
      cursor: pointer;
    }
    .quiet {
      color: var(--ink-soft);
      font-size: 13px;
      margin-bottom: 8px;
    }
    .fault {
      margin-bottom: 8px;
      padding-left: 8px;
      border-left: 3px solid var(--stop);
    }
    .palette {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(112px, 1fr));
      gap: 6px;
    }
    .palette li {
      display: flex;
      gap: 4px;
    }
    .palette input[type='color'] {
      width: 34px;
      height: 32px;
      padding: 0;
      border: 1px solid var(--line-strong);
    }
    .palette .number {
      width: 44px;
    }
  `,
})
export class DeviceForm {
  readonly surface = input.required<Surface>();
  private readonly editor = inject(DocumentEditor);
  protected readonly wires = WIRES;
  protected readonly device = computed(() => this.surface().device);
  protected readonly pages = computed(() => [
    this.surface().firstPage ?? { id: 'first', label: 'First page' },
    ...this.surface().pages,
  ]);
  protected readonly shown = computed(() => this.device().palette.slice(0, MOST_SHOWN));
  protected readonly outputs = computed(() => [
    ...new Set(this.surface().controls.flatMap((control) => outputsOf(this.surface(), control))),
  ]);
  protected readonly hasLights = computed(() => this.outputs().includes('light'));
  protected readonly target = computed(() => {
    const lit = this.surface().controls.find(({ takes }) => takes.light);
    return lit?.takes.light ? lightTarget(this.surface(), lit, lit.takes.light) : null;
  });
  protected readonly lights = LIGHTS;
  protected readonly palettes = () => {
    const { name, device } = this.surface();
    return Promise.resolve({ palettes: [{ name, colours: device.palette }] });
  };
  private readonly incoming = inject(IncomingFile);

  constructor() {
    // A palette that was given elsewhere and is meant for this surface.
    effect(() => {
      const { id } = this.surface();
      if (this.incoming.part())
        untracked(() => {
          const part = this.incoming.takeFor('palette', id);
          if (part) this.take(part.palette);
        });
    });
  }

  /** What the table that was read last has to say. */
  protected readonly tableSays = signal('');
  protected readonly paletteFindings = computed(() =>
    findingsOf(this.surface()).filter(({ kind }) => kind === 'palette' || kind === 'page'),
  );

  private change(name: string, change: (surface: Surface) => void): void {
    this.editor.edit('surface', (surface) =>
      changeSurface(surface, name, (draft) => change(draft as Surface)),
    );
  }

  protected set(key: 'sends' | 'takes', on: boolean): void {
    this.change(on ? `It ${key}` : `It ${key} nothing`, ({ device }) => {
      device[key] = on;
    });
  }

  protected setWire(value: string): void {
    const wire = WIRES.find((one) => one.value === value);
    if (!wire) return;
    this.change(`Connected by ${wire.label}`, ({ device }) => {
      device.wire = wire.value;
      device.bytesPerSecond = wire.bytes;
    });
  }

  protected setRate(value: number): void {
    this.change('Rate of its port', ({ device }) => {
      device.bytesPerSecond = value;
    });
  }

  protected setSize(key: 'width' | 'height', value: number | null): void {
    if (value === null) return;
    this.change('Size of the panel', (surface) => {
      surface[key] = value;
    });
  }

  protected setAbout(text: string): void {
    this.change('About the surface', (surface) => {
      surface.about = text.trim().slice(0, 200);
    });
  }

  protected forget(): void {
    this.change('Forget who it is', ({ device }) => {
      Reflect.deleteProperty(device, 'identity');
    });
  }

  protected setPage(index: number, key: 'label' | 'enter', typed: string): void {
    const text = typed.trim().slice(0, key === 'label' ? 40 : 400);
    this.change('Onboard page', (surface) => {
      if (index === 0) surface.firstPage ??= { id: 'first', label: 'First page' };
      const page = index === 0 ? surface.firstPage : surface.pages[index - 1];
      if (!page) return;
      if (key === 'label') page.label = text === '' ? page.label : text;
      else if (text === '') Reflect.deleteProperty(page, 'enter');
      else page.enter = fromHex(text) ? text.toUpperCase() : text;
    });
  }

  protected addPage(): void {
    this.change('Add an onboard page', (surface) => {
      if (surface.pages.length >= 15) return;
      let n = surface.pages.length + 2;
      while (surface.pages.some(({ id }) => id === `page-${n}`)) n++;
      surface.pages.push({ id: `page-${n}`, label: `Page ${n}` });
    });
  }

  protected removePage(index: number): void {
    this.change('Remove an onboard page', (surface) => {
      const [page] = surface.pages.splice(index - 1, 1);
      for (const control of surface.controls)
        if (control.pages) Reflect.deleteProperty(control.pages, page.id);
    });
  }

  protected setNote(index: number, text: string): void {
    this.change('Line of the device sheet', ({ device }) => {
      if (text.trim() === '') device.notes.splice(index, 1);
      else device.notes[index] = text.trim().slice(0, 200);
    });
  }

  protected addNote(): void {
    this.change('Add a line', ({ device }) => {
      if (device.notes.length < 40) device.notes.push('Set …');
    });
  }

  protected setColour(index: number, colour: string): void {
    this.change('Change a colour', ({ device }) => {
      device.palette[index].colour = colour;
    });
  }

  protected setNumber(index: number, value: number | null): void {
    if (value === null) return;
    this.change('Number of a colour', ({ device }) => {
      device.palette[index].value = value;
    });
  }

  protected removeColour(index: number): void {
    this.change('Remove a colour', ({ device }) => {
      device.palette.splice(index, 1);
    });
  }

  protected setReturns(change: ReturnsChange): void {
    this.change(change.name, (surface) => {
      applyReturns(surface, change);
    });
  }

  protected setLight(value: string): void {
    const kind = LIGHT_KINDS.find((one) => one === value);
    this.change('What its lights can do', ({ device }) => {
      if (kind) device.light = kind;
      else Reflect.deleteProperty(device, 'light');
    });
  }

  protected setNeverDark(on: boolean): void {
    this.change(on ? 'Lights never go dark' : 'Lights go dark', ({ device }) => {
      if (on) device.neverDark = true;
      else Reflect.deleteProperty(device, 'neverDark');
    });
  }

  /** Takes a table over in place of the one there is; what cannot be read is told, and nothing is lost by it. */
  protected async readTable(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    if (file.size > LARGEST_TABLE) {
      this.tableSays.set('This file is larger than 1 MB. A table of colours is smaller.');
      return;
    }
    const text = await file.text();
    const whole = text.trimStart().startsWith('{') ? readFileText(text) : null;
    const given = whole?.ok ? whole.file.palettes?.at(0) : undefined;
    if (whole && !given) {
      this.tableSays.set(
        `There is no palette in “${file.name}”, and the table stays as it is. ${whole.ok ? '' : (whole.faults.at(0)?.message ?? '')}`,
      );
      return;
    }
    if (given) {
      this.take(given);
      return;
    }
    const { palette, faults } = readPalette(text);
    const left = faults.length === 0 ? '' : ` Line ${faults[0].line}: ${faults[0].why}`;
    if (palette.length === 0) {
      this.tableSays.set(`No colour could be read, and the table stays as it is.${left}`);
      return;
    }
    this.change('Read a table of colours', ({ device }) => {
      device.palette = [...palette];
    });
    this.tableSays.set(
      faults.length === 0
        ? ''
        : `${palette.length} colours were read; ${faults.length} lines were not.${left}`,
    );
  }

  private take({ name, colours }: Palette): void {
    this.change(`Read palette ${name}`, ({ device }) => {
      device.palette = structuredClone([...colours]);
    });
    this.tableSays.set('');
  }

  protected addColour(): void {
    this.change('Add a colour', ({ device }) => {
      const used = new Set(device.palette.map(({ value }) => value));
      let value = 0;
      while (used.has(value)) value++;
      device.palette.push({ value, colour: '#f5a524' });
    });
  }
}
