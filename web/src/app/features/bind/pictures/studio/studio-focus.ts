import { ChangeDetectionStrategy, Component } from '@angular/core';
import { FOCUS_SLOTS, INSERTS, SENDS } from '@rondo/core/host';
import { Key, Slide } from '../playable';

/** The plug-in in focus, and what belongs to the selected track. */
@Component({
  selector: 'rondo-studio-focus',
  imports: [Key, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
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
  `,
})
export class StudioFocus {
  protected readonly slots = Array.from({ length: FOCUS_SLOTS }, (_, i) => i + 1);
  protected readonly sends = SENDS.map((bus, i) => ({ bus, id: `send${i + 1}/selected` }));
  protected readonly inserts = INSERTS.map(({ name }, i) => ({
    name,
    id: `insert${i + 1}On/selected`,
  }));
  protected readonly edits = [
    { id: 'undo', label: 'Undo', kind: 'trigger' },
    { id: 'redo', label: 'Redo', kind: 'trigger' },
    { id: 'save', label: 'Save', kind: 'trigger' },
    { id: 'tapTempo', label: 'Tap tempo', kind: 'trigger' },
  ] as const;
}
