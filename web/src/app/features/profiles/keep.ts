import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  output,
  signal,
} from '@angular/core';
import { Button } from 'primeng/button';
import { Choice } from '../../shared/ui/form';
import { Api, type Backup, type Binned } from '../../state/api';
import { forgetImport, lastImport, type LastImport } from '../../state/last-import';
import { saveFile } from '../../shared/ui/save-file';
import { Task, TaskFault } from '../../shared/ui/task';

const MOST_NAMED = 3;
/** The first names of a list, and how many more there are. */
const listed = (names: readonly string[]): string =>
  names
    .slice(0, MOST_NAMED)
    .map((name) => `“${name}”`)
    .join(', ') + (names.length > MOST_NAMED ? ` and ${names.length - MOST_NAMED} more` : '');

const KINDS = { profile: 'Profile', surface: 'Surface', host: 'Host', setup: 'Set-up' } as const;

/** What keeps work safe: everything as one file, backups, and what was deleted. */
@Component({
  selector: 'rondo-keep',
  imports: [Button, Choice, DatePipe, TaskFault],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-task-fault [task]="loading" />
    <section>
      <h2>Keep it safe</h2>
      <p>
        @if (backups()[0]; as last) {
          The last backup is of {{ last.at | date: 'd MMM y, HH:mm' }}; those of the last seven days
          are kept in the data folder.
        } @else {
          Rondo makes a backup each day that it runs.
        }
      </p>
      <p-button
        label="Back up now"
        size="small"
        severity="secondary"
        [outlined]="true"
        [disabled]="backingUp.busy()"
        [loading]="backingUp.busy()"
        (onClick)="backUp()"
      />
      @if (chosen(); as backup) {
        <p-button
          [label]="'Put back ' + (backup.at | date: 'd MMM, HH:mm') + ': sure?'"
          size="small"
          severity="danger"
          (onClick)="restore(backup)"
        />
        <p-button
          label="Cancel"
          size="small"
          [text]="true"
          severity="secondary"
          (onClick)="chosen.set(null)"
        />
      } @else if (backups().length > 0) {
        <rondo-choice
          label="Restore a backup"
          placeholder="Restore …"
          [options]="choices()"
          [value]="null"
          (chosen)="choose($event)"
        />
      }
      <p-button
        label="Save all to a file"
        size="small"
        severity="secondary"
        [outlined]="true"
        [disabled]="savingAll.busy()"
        (onClick)="saveAll()"
      />
      @if (leftOut(); as names) {
        <p role="status">
          Left out of the file, since a newer Rondo has made it and it cannot be read here:
          {{ names }}. All else is in it.
        </p>
      }
      <rondo-task-fault [task]="backingUp" />
      <rondo-task-fault [task]="restoring" />
      <rondo-task-fault [task]="savingAll" />
    </section>
    @if (imported(); as last) {
      <section>
        <h2>Read last</h2>
        <p>{{ last.file }}: {{ importedWords() }}.</p>
        <p-button
          label="Take it back"
          size="small"
          severity="secondary"
          [outlined]="true"
          (onClick)="takeBack(last)"
        />
        <p-button
          label="It stays"
          size="small"
          severity="secondary"
          [text]="true"
          (onClick)="leaveImport()"
        />
        <rondo-task-fault [task]="takingBack" />
      </section>
    }
    <section>
      <h2>Deleted</h2>
      <rondo-task-fault [task]="changingBin" />
      @if (bin().length === 0) {
        <p>Nothing. What is deleted stays here for ninety days.</p>
      }
      <ul>
        @for (one of bin(); track one.kind + one.id) {
          <li>
            <span>{{ kinds[one.kind] }}</span>
            <b>{{ one.name }}</b>
            <span>deleted {{ one.deletedAt | date: 'd MMM, HH:mm' }}</span>
            <span>
              <p-button
                label="Bring back"
                size="small"
                [outlined]="true"
                (onClick)="bringBack(one)"
              />
              @if (asked() === one) {
                <p-button
                  label="For good: sure?"
                  size="small"
                  severity="danger"
                  (onClick)="purge(one)"
                />
              } @else {
                <p-button
                  label="Remove for good"
                  size="small"
                  severity="secondary"
                  [text]="true"
                  (onClick)="asked.set(one)"
                />
              }
            </span>
          </li>
        }
      </ul>
    </section>
  `,
  styles: `
    :host {
      display: grid;
      gap: 18px;
      max-width: 1000px;
      margin-top: 28px;
    }
    section {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px 12px;
    }
    h2 {
      font-size: 16px;
    }
    p {
      flex: 1;
      color: var(--ink-soft);
    }
    ul {
      flex-basis: 100%;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: 70px 1fr auto auto;
      align-items: center;
      gap: 14px;
      min-height: 44px;
      border-top: 1px solid var(--line);
    }
  `,
})
export class Keep {
  /** Something came back: lists are to be loaded anew. */
  readonly changed = output<Binned['kind']>();
  /** What a file had done is as it was. */
  readonly takenBack = output<LastImport['documents']>();
  private readonly api = inject(Api);
  protected readonly kinds = KINDS;
  protected readonly bin = signal<readonly Binned[]>([]);
  protected readonly backups = signal<readonly Backup[]>([]);
  /** A backup that is about to be restored, until one says so. */
  protected readonly chosen = signal<Backup | null>(null);
  protected readonly choices = computed(() =>
    this.backups().map(({ name, at }) => ({
      value: name,
      label: `Restore ${at.slice(0, 16).replace('T', ', ')} UTC`,
    })),
  );
  /** Each says for itself how it ended: what one did wrong is not wiped out by the next. */
  protected readonly loading = new Task();
  protected readonly backingUp = new Task();
  protected readonly restoring = new Task();
  protected readonly savingAll = new Task();
  protected readonly takingBack = new Task();
  protected readonly changingBin = new Task();
  /** Names of what the last file of everything does not hold; '' for nothing. */
  protected readonly leftOut = signal('');
  protected readonly asked = signal<Binned | null>(null);

  /** What was read from a file last; null where nothing is to be taken back. */
  protected readonly imported = signal(lastImport());
  protected readonly importedWords = computed(() => {
    const all = this.imported()?.documents ?? [];
    const of = (did: string) => all.filter((one) => one.did === did).map(({ name }) => name);
    const [fresh, replaced] = [of('new'), of('replaced')];
    const says = [
      ...(fresh.length > 0 ? [`${listed(fresh)} came in`] : []),
      ...(replaced.length > 0 ? [`${listed(replaced)} replaced yours`] : []),
    ];
    return says.join('; ') || 'all of it was here already';
  });

  constructor() {
    void this.load();
  }

  lookAtImport(): void {
    this.imported.set(lastImport());
  }

  protected leaveImport(): void {
    forgetImport();
    this.imported.set(null);
  }

  /** What was new goes to the bin, what was replaced is again what it was. */
  protected takeBack({ documents }: LastImport): Promise<unknown> {
    return this.takingBack.run(async () => {
      await this.api.takeBack(documents);
      this.takenBack.emit(documents);
      this.leaveImport();
      for (const kind of new Set(documents.map((one) => one.kind))) this.changed.emit(kind);
      await this.load();
    });
  }

  /** Looks again, as after something was deleted. */
  load(): Promise<unknown> {
    return this.loading.run(async () => {
      const [bin, backups] = await Promise.all([this.api.bin(), this.api.backups()]);
      this.bin.set(bin);
      this.backups.set(backups);
    });
  }

  protected async backUp(): Promise<void> {
    if (await this.backingUp.run(() => this.api.backUp())) await this.load();
  }

  protected choose(name: string): void {
    this.chosen.set(this.backups().find((one) => one.name === name) ?? null);
  }

  /** Everything is as it was then; what is now is kept beside it. All pages load again. */
  protected restore({ name }: Backup): Promise<unknown> {
    this.chosen.set(null);
    return this.restoring.run(async () => {
      await this.api.restoreBackup(name);
      location.reload();
    });
  }

  protected saveAll(): Promise<unknown> {
    return this.savingAll.run(async () => {
      const { file, leftOut } = await this.api.exported();
      saveFile('rondo', file);
      this.leftOut.set(listed(leftOut.map(({ name }) => name)));
    });
  }

  protected async bringBack({ kind, id }: Binned): Promise<void> {
    const isBack = await this.changingBin.run(() => this.api.restore(kind, id));
    if (isBack) this.changed.emit(kind);
    await this.load();
  }

  protected async purge({ kind, id }: Binned): Promise<void> {
    this.asked.set(null);
    await this.changingBin.run(() => this.api.purge(kind, id));
    await this.load();
  }
}
