import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { Profile } from '@rondo/core/profile';
import { SYSTEMS, SYSTEM_NAMES, programSheet, type System } from '@rondo/core/surface';
import { EngineService } from '../../engine/engine.service';
import { LibraryService } from '../../state/library';
import { linksOf } from '../../engine/profile-links';
import { Choice } from '../../shared/ui/form';

/** What to set up between Rondo and each program of a profile: in the program, and in the system. */
@Component({
  selector: 'rondo-program-sheets',
  imports: [Choice],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (sheets().length > 0) {
      <h2>What to set in the programs</h2>
      @for (sheet of sheets(); track sheet.link) {
        <details
          [open]="sheet.real"
          role="group"
          [attr.aria-label]="'What to set in ' + sheet.label"
        >
          <summary>In {{ sheet.label }}</summary>
          <ol>
            @for (step of sheet.program; track step.says) {
              <li>{{ step.says }}</li>
            }
          </ol>
        </details>
      }
      <details role="group" aria-label="Virtual cables">
        <summary>Two virtual cables</summary>
        <p>
          On
          <rondo-choice
            label="Kind of system"
            [options]="systems"
            [value]="kindOfSystem()"
            (chosen)="kindOfSystem.set($event)"
          />
        </p>
        <ol>
          @for (step of cables(); track step.says) {
            <li [class.done]="step.done">{{ step.says }}</li>
          }
        </ol>
      </details>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    h2 {
      font-size: 16px;
    }
    details {
      padding: 6px 12px;
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    summary {
      min-height: 28px;
      font-weight: 600;
      line-height: 28px;
      cursor: pointer;
    }
    ol {
      display: grid;
      gap: 4px;
      margin: 4px 0 6px;
      padding-left: 20px;
      font-size: 14px;
      line-height: 1.4;
    }
    li.done {
      color: var(--ink-soft);
      text-decoration: line-through;
    }
  `,
})
export class ProgramSheets {
  readonly profile = input.required<Profile>();
  private readonly engine = inject(EngineService);
  private readonly library = inject(LibraryService);
  protected readonly systems = SYSTEMS.map((value) => ({ value, label: SYSTEM_NAMES[value] }));
  protected readonly kindOfSystem = signal<System>(systemHere());

  private readonly choices = this.engine.ports.choices;
  protected readonly sheets = computed(() => {
    const profile = this.profile();
    const choices = this.choices();
    const devices = profile.surfaceOrder
      .filter((id) => choices[`surface:${id}`]?.real)
      .map((id) => profile.surfaces[id].label);
    return linksOf(
      profile,
      (id) => this.library.hostOf(profile, id),
      (id) => this.library.surface(id),
    )
      .filter(({ kind, isOsc }) => kind === 'host' && !isOsc)
      .map(({ link, label, expects, desk }) => {
        const choice = choices[link];
        const [toProgram, fromProgram] = choice?.real
          ? [choice.output?.name ?? null, choice.input?.name ?? null]
          : [null, null];
        const sheet = programSheet({
          system: this.kindOfSystem(),
          program: label,
          toProgram,
          fromProgram,
          expects,
          desk,
          devices,
        });
        return { ...sheet, link, label, real: choice?.real ?? false };
      });
  });
  /** The same cables for all, but for what is still to choose; what is simulated needs none while something is real. */
  protected readonly cables = computed(() => {
    const real = this.sheets().filter((sheet) => sheet.real);
    const sheets = real.length > 0 ? real : this.sheets();
    const isOpen = sheets.find(({ system }) => system.some(({ done }) => done === false));
    return (isOpen ?? sheets.at(0))?.system;
  });
}

/** The system that the page runs on, as far as it tells. */
function systemHere(): System {
  const told = navigator.userAgent.toLowerCase();
  return told.includes('mac') ? 'mac' : told.includes('win') ? 'windows' : 'linux';
}
