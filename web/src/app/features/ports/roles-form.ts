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
import { NoteNames } from '../../shared/words/note-names';
import { linksOf } from '../../engine/profile-links';
import { DocumentEditor } from '../../state/documents';
import { LibraryService } from '../../state/library';
import { Choice, NumberField, Switch } from '../../shared/ui/form';
import { onwardWords } from './onward-words';

type Range = Roles['notes'][number];

/** What the messages of each surface's port are for: control, notes to be played, clock. */
@Component({
  selector: 'rondo-roles-form',
  imports: [Choice, FormsModule, NumberField, SelectButton, Switch],
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
        @if (!row.isOsc) {
          <p>
            Control, but for what is named here. Notes to be played fire no command, so that a key
            never does what a button should.
          </p>
        }
        @for (range of row.roles.notes; track $index; let i = $index) {
          <div class="range">
            <span class="cap">
              Channel
              <rondo-choice
                label="Channel"
                [options]="channels"
                [value]="range.channel ?? 0"
                (chosen)="change(row.id, i, { channel: $event || null })"
              />
            </span>
            <span class="cap">
              From note
              <rondo-number
                label="From note"
                [min]="0"
                [max]="127"
                [value]="range.from"
                (changed)="setNote(row.id, i, 'from', $event ?? 0)"
              />
            </span>
            <span class="cap">
              To note
              <rondo-number
                label="To note"
                [min]="0"
                [max]="127"
                [value]="range.to"
                (changed)="setNote(row.id, i, 'to', $event ?? 127)"
              />
            </span>
            <small
              >{{ name(range.from, names.octave()) }}–{{ name(range.to, names.octave()) }}</small
            >
            <button type="button" (click)="remove(row.id, i)">Remove</button>
          </div>
        }
        @if (!row.isOsc) {
          <div class="row">
            <button type="button" (click)="add(row.id)">Add notes to be played</button>
            <rondo-switch [on]="row.roles.clock" (turned)="set(row.id, { clock: $event })">
              Its clock is the one to follow
            </rondo-switch>
          </div>
        }
        <div class="row">
          What is bound to nothing goes on to
          <rondo-choice
            [label]="'Where messages of ' + row.label + ' go on to'"
            [options]="row.places"
            [value]="row.onward"
            (chosen)="sendOn(row.id, $event)"
          />
          @if (row.onward) {
            @for (kind of row.offered; track kind) {
              <rondo-switch [on]="row.kinds.includes(kind)" (turned)="toggleKind(row.id, kind)">
                {{ kindWords[kind] }}
              </rondo-switch>
            }
          }
        </div>
        @for (line of row.words; track line) {
          <p>{{ line }}</p>
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
  private readonly library = inject(LibraryService);
  protected readonly channels = Array.from({ length: 17 }, (_, value) => ({
    value,
    label: value === 0 ? 'any' : String(value),
  }));
  protected readonly names = inject(NoteNames);
  protected readonly octaves = MIDDLE_C.map((value) => ({ label: `C${value}`, value }));
  /** @param _octave is asked for so that the name is made anew when it changes */
  protected readonly name = (note: number, _octave: number): string => noteName(note);
  protected readonly kindWords: Readonly<Record<MessageKind, string>> = {
    note: 'notes',
    controller: 'controllers',
    program: 'programs',
    bend: 'pitch bend',
    pressure: 'pressure',
    sysex: 'SysEx',
    clock: 'clock, start and stop',
    osc: 'OSC',
  };

  protected readonly rows = computed(() => {
    const profile = this.profile();
    const links = linksOf(
      profile,
      (id) => this.library.hostOf(profile, id),
      (id) => this.library.surface(id),
    );
    const speaksOsc = (key: string) =>
      links.some(({ link, isOsc }) => isOsc && link === key.replace(' ', ':'));
    return profile.surfaceOrder.map((id) => ({
      id,
      isOsc: speaksOsc(`surface ${id}`),
      words: this.wordsOf(profile, id),
      offered: MESSAGE_KINDS.filter((kind) => (kind === 'osc') === speaksOsc(`surface ${id}`)),
      label: profile.surfaces[id].label,
      roles: profile.surfaces[id].roles ?? { notes: [], clock: false },
      onward: keyOf(profile.surfaces[id].onward?.to),
      kinds: profile.surfaces[id].onward?.kinds ?? [],
      places: [
        { value: '', label: 'nowhere' },
        ...profile.hostOrder.map((host) => ({
          value: `host ${host}`,
          label: profile.hosts[host].label,
        })),
        ...profile.surfaceOrder
          .filter((other) => other !== id)
          .map((other) => ({ value: `surface ${other}`, label: profile.surfaces[other].label })),
      ].filter(
        // What is OSC says nothing to MIDI, nor the other way round.
        ({ value }) => value === '' || speaksOsc(value) === speaksOsc(`surface ${id}`),
      ),
    }));
  });

  private wordsOf(profile: Profile, id: string): string[] {
    const { model, roles, onward } = profile.surfaces[id];
    if (!onward) return [];
    const key = keyOf(onward.to).split(' ')[1];
    const to = ('host' in onward.to ? profile.hosts[key] : profile.surfaces[key]) as
      { label: string } | undefined;
    return onwardWords(
      this.library.surface(model),
      roles ?? { notes: [], clock: false },
      onward.kinds,
      to?.label ?? key,
    );
  }

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

  protected setNote(id: string, index: number, key: 'from' | 'to', value: number): void {
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
