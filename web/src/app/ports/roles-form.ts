import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import {
  MESSAGE_KINDS,
  setOnward,
  setRoles,
  type MessageKind,
  type Onward,
  type Profile,
  type Roles,
} from '@rondo/core/profile';
import { MIDDLE_C, noteName } from '@rondo/core/wire';
import { FormsModule } from '@angular/forms';
import { SelectButton } from 'primeng/selectbutton';
import { NoteNames } from '../ui/note-names';
import { DocumentEditor } from '../state/documents';

type Range = Roles['notes'][number];

/** What the messages of each surface's port are for: control, notes to be played, clock. */
@Component({
  selector: 'rondo-roles-form',
  imports: [FormsModule, SelectButton],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="names">
      <span id="note-names">Note 60 is written</span>
      <p-selectbutton
        size="small"
        [options]="octaves"
        optionLabel="label"
        optionValue="value"
        [allowEmpty]="false"
        [ngModel]="names.octave()"
        (ngModelChange)="names.choose($event)"
        ariaLabelledBy="note-names"
      />
    </div>
    @for (row of rows(); track row.id) {
      <fieldset>
        <legend>What {{ row.label }} is for</legend>
        <p>
          Control, but for what is named here. Notes to be played fire no command, so that a key
          never does what a button should.
        </p>
        @for (range of row.roles.notes; track $index; let i = $index) {
          <div class="range">
            <label>
              Channel
              <select #channel (change)="change(row.id, i, { channel: +channel.value || null })">
                <option value="0" [selected]="range.channel === null">any</option>
                @for (n of channels; track n) {
                  <option [value]="n" [selected]="range.channel === n">{{ n }}</option>
                }
              </select>
            </label>
            <label>
              From note
              <input
                #from
                inputmode="numeric"
                [value]="range.from"
                (change)="setNote(row.id, i, 'from', from.value)"
              />
            </label>
            <label>
              To note
              <input
                #to
                inputmode="numeric"
                [value]="range.to"
                (change)="setNote(row.id, i, 'to', to.value)"
              />
            </label>
            <small
              >{{ name(range.from, names.octave()) }}–{{ name(range.to, names.octave()) }}</small
            >
            <button type="button" (click)="remove(row.id, i)">Remove</button>
          </div>
        }
        <div class="row">
          <button type="button" (click)="add(row.id)">Add notes to be played</button>
          <label class="tick">
            <input
              #clock
              type="checkbox"
              [checked]="row.roles.clock"
              (change)="set(row.id, { clock: clock.checked })"
            />
            Its clock is the one to follow
          </label>
        </div>
        <div class="row">
          <label class="tick">
            What is bound to nothing goes on to
            <select
              #onward
              class="wide"
              [attr.aria-label]="'Where messages of ' + row.label + ' go on to'"
              (change)="sendOn(row.id, onward.value)"
            >
              <option value="">nowhere</option>
              @for (to of row.places; track to.key) {
                <option [value]="to.key" [selected]="to.key === row.onward">{{ to.label }}</option>
              }
            </select>
          </label>
          @if (row.onward) {
            @for (kind of kinds; track kind) {
              <label class="tick">
                <input
                  type="checkbox"
                  [checked]="row.kinds.includes(kind)"
                  (change)="toggleKind(row.id, kind)"
                />
                {{ kindWords[kind] }}
              </label>
            }
          }
        </div>
        @if (row.onward) {
          <p>Bindings that pass their message on send it there too, whatever its kind.</p>
        }
      </fieldset>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 14px;
    }
    .names {
      display: flex;
      align-items: center;
      gap: 10px;
    }
    fieldset {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 10px 12px;
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    legend {
      font-weight: 600;
    }
    p,
    small {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .range,
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: end;
      gap: 8px;
    }
    .row {
      align-items: center;
    }
    label {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    .wide {
      width: auto !important;
    }
    .tick {
      display: flex;
      align-items: center;
      gap: 6px;
      color: var(--ink);
      font-size: 13px;
    }
    input:not([type]),
    select {
      width: 62px;
      min-height: 30px;
      padding: 2px 6px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      color: var(--ink);
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
  `,
})
export class RolesForm {
  readonly profile = input.required<Profile>();
  private readonly editor = inject(DocumentEditor);
  protected readonly channels = Array.from({ length: 16 }, (_, i) => i + 1);
  protected readonly names = inject(NoteNames);
  protected readonly octaves = MIDDLE_C.map((value) => ({ label: `C${value}`, value }));
  /** @param _octave is asked for so that the name is made anew when it changes */
  protected readonly name = (note: number, _octave: number): string => noteName(note);
  protected readonly kinds = MESSAGE_KINDS;
  protected readonly kindWords: Readonly<Record<MessageKind, string>> = {
    note: 'notes',
    controller: 'controllers',
    program: 'programs',
    bend: 'pitch bend',
    pressure: 'pressure',
    sysex: 'SysEx',
    clock: 'clock, start and stop',
  };

  protected readonly rows = computed(() => {
    const profile = this.profile();
    return profile.surfaceOrder.map((id) => ({
      id,
      label: profile.surfaces[id].label,
      roles: profile.surfaces[id].roles ?? { notes: [], clock: false },
      onward: keyOf(profile.surfaces[id].onward?.to),
      kinds: profile.surfaces[id].onward?.kinds ?? [],
      places: [
        ...profile.hostOrder.map((host) => ({
          key: `host ${host}`,
          label: profile.hosts[host].label,
        })),
        ...profile.surfaceOrder
          .filter((other) => other !== id)
          .map((other) => ({ key: `surface ${other}`, label: profile.surfaces[other].label })),
      ],
    }));
  });

  protected set(id: string, part: Partial<Roles>): void {
    this.editor.edit('profile', (profile) => {
      const before = profile.surfaces[id].roles ?? { notes: [], clock: false };
      return setRoles(profile, id, { ...before, ...part } as Roles);
    });
  }

  protected sendOn(id: string, key: string): void {
    const [kind, to] = key.split(' ');
    const kinds = this.profile().surfaces[id].onward?.kinds ?? [];
    const onward: Onward | null =
      key === '' ? null : { to: kind === 'host' ? { host: to } : { surface: to }, kinds };
    this.editor.edit('profile', (profile) => setOnward(profile, id, onward));
  }

  protected toggleKind(id: string, kind: MessageKind): void {
    const { onward } = this.profile().surfaces[id];
    if (!onward) return;
    const kinds = onward.kinds.includes(kind)
      ? onward.kinds.filter((other) => other !== kind)
      : [...onward.kinds, kind];
    this.editor.edit('profile', (profile) => setOnward(profile, id, { ...onward, kinds }));
  }

  private rangesOf(id: string): Range[] {
    return [...(this.rows().find((row) => row.id === id)?.roles.notes ?? [])];
  }

  protected add(id: string): void {
    const notes = this.rangesOf(id);
    if (notes.length < 16) this.set(id, { notes: [...notes, { channel: 1, from: 0, to: 127 }] });
  }

  protected remove(id: string, index: number): void {
    this.set(id, { notes: this.rangesOf(id).filter((_, i) => i !== index) });
  }

  protected change(id: string, index: number, part: Partial<Range>): void {
    const notes = this.rangesOf(id).map((range, i) =>
      i === index ? ({ ...range, ...part } as Range) : range,
    );
    this.set(id, { notes });
  }

  protected setNote(id: string, index: number, key: 'from' | 'to', typed: string): void {
    const value = Number(typed);
    if (typed.trim() === '' || !Number.isInteger(value) || value < 0 || value > 127) return;
    const range = this.rangesOf(id)[index];
    const next = { ...range, [key]: value };
    // The other end gives way, so that the range is never empty.
    if (next.from > next.to) next[key === 'from' ? 'to' : 'from'] = value;
    this.change(id, index, next);
  }
}

/** A destination as the value of an option; empty for none. */
const keyOf = (to: Onward['to'] | undefined): string =>
  to === undefined
    ? ''
    : 'host' in to
      ? `host ${to.host as string}`
      : `surface ${to.surface as string}`;
