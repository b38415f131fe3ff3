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
  templateUrl: './device-form.html',
  styleUrl: './device-form.css',
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
