import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import type { Action, Destination } from '@rondo/core/profile';
import { TEXT_PLACES } from '@rondo/core/surface';
import { readMessage } from '@rondo/core/wire';
import { Workbench } from '../workbench';
import { Choice, TextField } from '../../../shared/ui/form';
import { InputText } from 'primeng/inputtext';

type Send = Extract<Action, { do: 'send' }>;

/** What is sent, where to, and the text in it. */
@Component({
  selector: 'rondo-send-fields',
  imports: [Choice, InputText, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <label>
        Message
        <input
          pInputText
          pSize="small"
          #message
          class="mono"
          type="text"
          aria-label="Message"
          [rondoText]="action().message ?? ''"
          (change)="changed.emit({ message: message.value.trim().slice(0, 1024) })"
        />
      </label>
      <span class="pair">
        to
        <rondo-choice
          label="Send to"
          [options]="places()"
          [value]="here()"
          (chosen)="sendTo($event)"
        />
      </span>
      <small [class.fault]="fault()">{{
        fault() ||
          'Hex pairs; value, or high and low, where the value stands; text where a text does.'
      }}</small>
    </div>
    @if (hasText()) {
      <div class="row">
        <label>
          Text
          <input
            pInputText
            pSize="small"
            #text
            type="text"
            maxlength="120"
            aria-label="Text in the message"
            [rondoText]="action().text ?? ''"
            (change)="changed.emit({ text: text.value })"
          />
        </label>
        <small>{{ hint }}</small>
      </div>
    }
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    :host {
      display: grid;
      grid-template-rows: none;
      gap: 6px;
      padding: 0;
      border: 0;
      background: none;
    }
    input {
      width: 230px;
    }
    .fault {
      color: var(--stop);
    }
  `,
})
export class SendFields {
  readonly action = input.required<Send>();
  readonly changed = output<Partial<Pick<Send, 'message' | 'text' | 'to'>>>();
  private readonly bench = inject(Workbench);
  protected readonly hint = `Cut to what fits. In braces: ${TEXT_PLACES.join(', ')}.`;
  private readonly read = computed(() => readMessage(this.action().message ?? ''));
  protected readonly fault = computed(() => {
    const read = this.read();
    return 'fault' in read ? read.fault : '';
  });
  protected readonly hasText = computed(() => {
    const read = this.read();
    return !('fault' in read) && read.text >= 0;
  });
  protected readonly places = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    return [
      ...profile.hostOrder.map((id) => ({ value: `host ${id}`, label: profile.hosts[id].label })),
      ...profile.surfaceOrder.map((id) => ({
        value: `surface ${id}`,
        label: profile.surfaces[id].label,
      })),
    ];
  });
  protected readonly here = computed(() => {
    const { to } = this.action();
    return 'host' in to ? `host ${to.host as string}` : `surface ${to.surface as string}`;
  });

  protected sendTo(key: string): void {
    const [kind, id] = key.split(' ');
    const to: Destination = kind === 'host' ? { host: id } : { surface: id };
    this.changed.emit({ to });
  }
}
