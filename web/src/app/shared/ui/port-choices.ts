import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { Select } from 'primeng/select';
import type { Profile } from '@rondo/core/profile';
import { EngineService } from '../../engine/engine.service';
import { SIMULATED, type PortChoice } from '../../engine/port-choice';
import { linksOf } from '../../engine/profile-links';
import { tellApart } from '../../engine/port-names';
import { LibraryService } from '../../state/library';
import { MIDI_SENTENCE, type PortInfo } from '../../engine/midi';
import { KeyPlace } from './key-place';
import { OscPlace } from './osc-place';

interface Option {
  readonly label: string;
  readonly value: string;
}
const SIMULATION = 'simulated';
const NOTHING = 'none';

/** Which real ports stand in place of the simulated desk and host. */
@Component({
  selector: 'rondo-ports',
  imports: [Button, FormsModule, KeyPlace, OscPlace, RouterLink, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.embedded]': 'embedded()' },
  template: `
    @if (sentence() && !embedded()) {
      <p>{{ sentence() }}</p>
    }
    @if (canAsk() && !embedded()) {
      <p-button
        size="small"
        [label]="state() === 'not asked' ? 'Allow real MIDI ports' : 'Ask again'"
        (onClick)="ask()"
      />
    }
    @for (row of rows(); track row.link) {
      <fieldset>
        <legend>{{ row.label }}</legend>
        @if (row.isKeys) {
          <rondo-key-place [link]="row.link" [name]="row.label" />
        } @else if (row.isOsc) {
          <rondo-osc-place [link]="row.link" [name]="row.label" />
        } @else {
          <div class="line">
            <label [for]="row.link + '-input'"
              >From {{ row.kind === 'surface' ? 'the surface' : 'the program' }}</label
            >
            @if (row.silent) {
              <small>It sends no messages.</small>
            } @else {
              <p-select
                [inputId]="row.link + '-input'"
                size="small"
                appendTo="body"
                [options]="row.inputs"
                optionLabel="label"
                optionValue="value"
                [ngModel]="row.input"
                (ngModelChange)="choose(row.link, 'input', $event)"
                [ariaLabel]="row.label + ' input'"
              />
            }
          </div>
          <div class="line">
            <label [for]="row.link + '-output'"
              >To {{ row.kind === 'surface' ? 'the surface' : 'the program' }}</label
            >
            @if (row.deaf) {
              <small>It takes no messages: nothing comes back to it.</small>
            } @else {
              <p-select
                [inputId]="row.link + '-output'"
                size="small"
                appendTo="body"
                [options]="row.outputs"
                optionLabel="label"
                optionValue="value"
                [ngModel]="row.output"
                (ngModelChange)="choose(row.link, 'output', $event)"
                [ariaLabel]="row.label + ' output'"
              />
            }
          </div>
        }
        @for (line of row.trouble; track line) {
          <p class="trouble" role="alert">{{ line }}</p>
        }
        @for (notice of row.notices; track notice.kind) {
          <p [class.trouble]="notice.bad" [class.said]="!notice.bad" role="status">
            {{ notice.says }}
          </p>
        }
        @if (row.real && !(row.isOsc && row.kind === 'surface')) {
          <div class="does">
            @if (row.kind === 'host') {
              <button type="button" (click)="engine.askAgain(row.link)">Ask for full state</button>
              <button type="button" (click)="engine.checkTwice(row.link)">
                Check for double control
              </button>
            }
            @if (!row.isOsc) {
              <button type="button" (click)="engine.checkCable(row.link)">Check the cable</button>
            }
          </div>
        }
      </fieldset>
    }
    @if (!embedded()) {
      <p class="note">
        For a real program, use two virtual cables, one for each direction: on a single cable both
        ends hear themselves. What to set in it stands on the <a routerLink="/ports">Ports</a>
        screen.
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 12px;
      width: 360px;
    }
    :host(.embedded) {
      width: auto;
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
    .line {
      display: grid;
      grid-template-columns: 130px 1fr;
      align-items: center;
      gap: 8px;
    }
    p {
      line-height: 1.4;
    }
    .note {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .said {
      border-left: 3px solid var(--line-strong);
      padding-left: 8px;
      color: var(--ink-soft);
      font-size: 13px;
    }
    .does {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
    .does button {
      min-height: 28px;
      padding: 2px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      font-size: 13px;
      cursor: pointer;
    }
    .trouble {
      border-left: 3px solid var(--stop);
      padding-left: 8px;
    }
  `,
})
export class Ports {
  readonly profile = input.required<Profile>();
  /** Stands on a screen that says by itself how far the browser has let us. */
  readonly embedded = input(false);
  protected readonly engine = inject(EngineService);
  private readonly library = inject(LibraryService);
  protected readonly state = this.engine.midi.state;
  protected readonly sentence = computed(() => MIDI_SENTENCE[this.state()]);
  protected readonly canAsk = computed(() =>
    ['not asked', 'refused', 'no platform', 'granted without SysEx'].includes(this.state()),
  );

  protected readonly rows = computed(() => {
    const profile = this.profile();
    const { midi } = this.engine;
    const choices = this.engine.ports.choices();
    const links = linksOf(
      profile,
      (id) => this.library.hostOf(profile, id),
      (id) => this.library.surface(id),
    );
    const notices = this.engine.notices();
    return links.map((row) => {
      const choice: PortChoice = choices[row.link] ?? SIMULATED;
      const ids = [choice.input?.id, choice.output?.id];
      return {
        ...row,
        real: choice.real,
        notices: notices.filter(({ link }) => link === row.link),
        inputs: options(midi.inputs(), choice.input),
        outputs: options(midi.outputs(), choice.output),
        input: choice.real ? (choice.input?.id ?? NOTHING) : SIMULATION,
        output: choice.real ? (choice.output?.id ?? NOTHING) : SIMULATION,
        trouble: Object.entries(midi.trouble())
          .filter(([id]) => ids.includes(id))
          .map(([, line]) => line),
      };
    });
  });

  protected ask(): void {
    void this.engine.midi.ask();
  }

  protected choose(link: string, end: 'input' | 'output', value: string): void {
    if (value === SIMULATION) {
      this.engine.choosePorts(link, SIMULATED);
      return;
    }
    const ports = end === 'input' ? this.engine.midi.inputs() : this.engine.midi.outputs();
    const port = ports.find(({ id }) => id === value) ?? null;
    this.engine.choosePorts(link, {
      ...this.engine.ports.choiceOf(link),
      real: true,
      [end]: port,
    });
  }
}

function options(ports: readonly PortInfo[], chosen: PortInfo | null): Option[] {
  const missing = chosen && !ports.some(({ id }) => id === chosen.id);
  return [
    { label: 'Simulated', value: SIMULATION },
    { label: 'None', value: NOTHING },
    ...tellApart(ports).map(({ id, label }) => ({ label, value: id })),
    ...(missing ? [{ label: `${chosen.name} (not plugged in)`, value: chosen.id }] : []),
  ];
}
