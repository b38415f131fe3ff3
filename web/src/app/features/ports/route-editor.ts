import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { SelectButton } from 'primeng/selectbutton';
import { endKey, type MessageKind, type Route, type RouteTerms } from '@rondo/core/profile';
import { Choice, NumberField, Switch } from '../../shared/ui/form';
import { withEnd, type NoteRange } from './note-range';
import { kindName, kindsOf } from './route-words';

const ALL_NOTES: NoteRange = { from: 0, to: 127 };
const CHANNELS = Array.from({ length: 16 }, (_, n) => n + 1);

/** What one route takes and how it goes on, in fields. */
@Component({
  selector: 'rondo-route-editor',
  imports: [Button, Choice, FormsModule, NumberField, SelectButton, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (refused()) {
      <p class="trouble" role="alert">{{ refused() }}</p>
    }
    <span class="cap">
      To
      <rondo-choice
        label="To"
        [options]="places()"
        [value]="to()"
        (chosen)="movedTo.emit($event)"
      />
    </span>
    <div class="switches" role="group" aria-label="What goes along">
      @for (kind of kinds(); track kind) {
        <rondo-switch [on]="route().kinds.includes(kind)" (turned)="toggle(kind)">
          {{ nameOf(kind) }}
        </rondo-switch>
      }
      <p-button
        [label]="route().kinds.length > 0 ? 'None of them' : 'All of them'"
        size="small"
        [text]="true"
        (onClick)="changed.emit({ kinds: route().kinds.length > 0 ? [] : kinds() })"
      />
      <rondo-switch
        [on]="route().rest ?? false"
        (turned)="changed.emit({ rest: $event || undefined })"
      >
        only what no other line takes
      </rondo-switch>
    </div>
    @if (!isOsc()) {
      <div>
        <span class="cap" id="route-channels">
          {{ route().channels ? 'Only these channels' : 'All channels; press some for only those' }}
        </span>
        <p-selectbutton
          class="channels"
          size="small"
          [options]="channels"
          optionLabel="label"
          optionValue="value"
          [multiple]="true"
          [allowEmpty]="true"
          [ngModel]="route().channels ?? []"
          (ngModelChange)="changed.emit({ channels: $event.length > 0 ? $event : undefined })"
          ariaLabelledBy="route-channels"
        />
      </div>
      <div class="numbers">
        <span class="cap">
          From note
          <rondo-number
            label="From note"
            [min]="0"
            [max]="127"
            [value]="route().notes?.from ?? 0"
            (changed)="setNote('from', $event ?? 0)"
          />
        </span>
        <span class="cap">
          To note
          <rondo-number
            label="To note"
            [min]="0"
            [max]="127"
            [value]="route().notes?.to ?? 127"
            (changed)="setNote('to', $event ?? 127)"
          />
        </span>
        <span class="cap">
          Transpose
          <rondo-number
            label="Transpose"
            unit="semitones"
            [min]="-127"
            [max]="127"
            [value]="route().transpose ?? 0"
            (changed)="changed.emit({ transpose: $event || undefined })"
          />
        </span>
        <span class="cap">
          As channel
          <rondo-choice
            label="As channel"
            [options]="asChannel"
            [value]="route().channel ?? 0"
            (chosen)="changed.emit({ channel: $event || undefined })"
          />
        </span>
      </div>
    }
    <p-button
      label="Remove this route"
      size="small"
      severity="secondary"
      [outlined]="true"
      (onClick)="removed.emit()"
    />
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      padding: 8px 10px;
      border-left: 2px solid var(--line-strong);
    }
    .cap {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    .switches,
    .numbers {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 14px;
    }
    .channels {
      display: grid;
      grid-template-columns: repeat(16, 1fr);
      max-width: 460px;
    }
    .channels ::ng-deep .p-togglebutton {
      padding: 2px 0;
      min-height: 26px;
      border-color: var(--line-strong);
    }
    @media (max-width: 1100px) {
      .channels {
        grid-template-columns: repeat(8, 1fr);
      }
    }
    .trouble {
      border-left: 3px solid var(--stop);
      padding-left: 8px;
      font-size: 13px;
    }
  `,
})
export class RouteEditor {
  readonly route = input.required<Route>();
  readonly isOsc = input.required<boolean>();
  readonly places = input.required<readonly { readonly value: string; readonly label: string }[]>();
  /** Why the last change was not taken; empty where it was. */
  readonly refused = input('');
  readonly changed = output<Partial<RouteTerms>>();
  readonly movedTo = output<string>();
  readonly removed = output();
  protected readonly channels = CHANNELS.map((value) => ({ value, label: String(value) }));
  protected readonly asChannel = [0, ...CHANNELS].map((value) => ({
    value,
    label: value === 0 ? 'as it came' : String(value),
  }));
  protected readonly nameOf = kindName;
  protected readonly kinds = computed(() => kindsOf(this.isOsc()));
  protected readonly to = computed(() => endKey(this.route().to));

  protected toggle(kind: MessageKind): void {
    const { kinds } = this.route();
    const next = kinds.includes(kind) ? kinds.filter((other) => other !== kind) : [...kinds, kind];
    this.changed.emit({ kinds: kindsOf(this.isOsc()).filter((one) => next.includes(one)) });
  }

  protected setNote(end: 'from' | 'to', note: number): void {
    const range = withEnd(this.route().notes ?? ALL_NOTES, end, note);
    const isAll = range.from === ALL_NOTES.from && range.to === ALL_NOTES.to;
    this.changed.emit({ notes: isAll ? undefined : range });
  }
}
