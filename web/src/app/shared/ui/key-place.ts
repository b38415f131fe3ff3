import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { EngineService } from '../../engine/engine.service';
import { SIMULATED } from '../../engine/port-choice';
import { OneOf, TextField } from './form';

/** Whether a host's keys are pressed on this computer in place of its simulation, and for which program. */
@Component({
  selector: 'rondo-key-place',
  imports: [OneOf, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-one-of
      [label]="name() + ' is'"
      [options]="WHERE"
      [value]="keys() ? 'keys' : 'simulated'"
      (chosen)="choose($event === 'keys')"
    />
    @if (keys(); as k) {
      <label>
        Only while this is in front
        <input
          #program
          type="text"
          maxlength="80"
          placeholder="whatever is"
          spellcheck="false"
          [attr.aria-label]="'Program in front for ' + name()"
          [rondoText]="k.program"
          (change)="set(program.value)"
        />
      </label>
      @if (standing(); as s) {
        @if (s.fault) {
          <p class="trouble" role="alert">{{ s.fault }}</p>
        } @else {
          <p role="status">Its keys are pressed on this computer.</p>
        }
      }
      @for (one of news(); track one.why) {
        <p class="trouble" role="status">
          @if (one.why === 'notInFront') {
            A key was kept back: {{ one.from || 'another program' }} is in front.
          } @else {
            A key was kept back: {{ one.from }} is no stroke of this host.
          }
        </p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    label {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    input {
      min-height: 28px;
      padding: 2px 8px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      color: var(--ink);
      font: inherit;
      font-size: 13px;
    }
    p {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .trouble {
      border-left: 3px solid var(--stop);
      padding-left: 8px;
    }
  `,
})
export class KeyPlace {
  readonly link = input.required<string>();
  readonly name = input.required<string>();
  private readonly engine = inject(EngineService);
  protected readonly WHERE = [
    { value: 'simulated', label: 'Simulated' },
    { value: 'keys', label: 'By keys of this computer' },
  ] as const;
  protected readonly keys = computed(() => {
    const { real, net } = this.engine.ports.choices()[this.link()] ?? SIMULATED;
    return real ? (net?.keys ?? null) : null;
  });
  protected readonly standing = computed(() => this.engine.net.standing()[this.link()]);
  protected readonly news = computed(() =>
    Object.values(this.engine.net.news()).flatMap((one) =>
      one?.link === this.link() ? [one] : [],
    ),
  );

  protected choose(isReal: boolean): void {
    if (isReal) this.set('');
    else this.engine.choosePorts(this.link(), SIMULATED);
  }

  protected set(program: string): void {
    const net = { listen: null, to: null, from: [], keys: { program: program.trim() } };
    this.engine.choosePorts(this.link(), { ...SIMULATED, real: true, net });
  }
}
