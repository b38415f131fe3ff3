import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { Button } from 'primeng/button';
import {
  CHART_COLUMNS,
  chartMessage,
  readChart,
  type ChartColumnKind,
  type HostRow,
  type MessageHost,
} from '@rondo/core/host';
import { Choice, NumberField } from '../../shared/ui/form';
import { Textarea } from 'primeng/textarea';

const LONGEST_CHART = 2_000_000;
const SHOWN = 4;
const COLUMN_WORDS: Readonly<Record<ChartColumnKind, string>> = {
  name: 'Name',
  message: 'Message',
  fine: 'Fine half',
  range: 'Range',
  lowest: 'Lowest',
  highest: 'Highest',
  rest: 'Default',
  feedback: 'Feedback',
  channel: 'Channel',
  kind: 'Kind',
  none: 'Left out',
};

/** Reads a chart from CSV, pasted or from a file, and shows what it finds before it is taken. */
@Component({
  selector: 'rondo-chart-reader',
  imports: [Button, Choice, NumberField, Textarea],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Read a chart</h2>
    <p>
      A line for each parameter, with headings or without. What each column was taken for is shown
      below and can be changed.
    </p>
    <textarea
      pTextarea
      pSize="small"
      #text
      class="mono"
      rows="5"
      spellcheck="false"
      aria-label="The chart as CSV"
      placeholder="Cutoff,CC 74,0-127,same"
      [value]="csv()"
      (input)="write(text.value)"
    ></textarea>
    @if (csv().trim() !== '') {
      <div class="columns" role="group" aria-label="What the columns are">
        @for (column of read().columns; track $index; let i = $index) {
          <div class="column">
            <span class="mono">{{ column.heading || '(empty)' }}</span>
            <rondo-choice
              [label]="'Column ' + (i + 1) + ' is'"
              [options]="kinds"
              [value]="column.as"
              (chosen)="say(i, $event)"
            />
          </div>
        }
      </div>
    }
    <div class="row">
      <label class="file">
        From a file
        <input
          #file
          type="file"
          accept=".csv,text/csv,text/plain"
          aria-label="Read a chart from a CSV file"
          (change)="open(file)"
        />
      </label>
      Channel where none is said
      <rondo-number
        label="Channel where none is said"
        [min]="1"
        [max]="16"
        [value]="channel()"
        (changed)="channel.set($event ?? 1)"
      />
      <span class="space"></span>
      <p-button
        label="Cancel"
        size="small"
        severity="secondary"
        [text]="true"
        (onClick)="done.emit([])"
      />
      <p-button
        [label]="read().rows.length === 1 ? 'Add 1 row' : 'Add ' + read().rows.length + ' rows'"
        size="small"
        [disabled]="read().rows.length === 0"
        (onClick)="done.emit(read().rows)"
      />
    </div>
    @if (problem(); as why) {
      <p class="fault" role="alert">{{ why }}</p>
    }
    @if (csv().trim() !== '') {
      <p role="status">
        {{ words() }}
      </p>
      @for (fault of read().faults.slice(0, 6); track fault.line) {
        <p class="fault">Line {{ fault.line }}: {{ fault.why }}</p>
      }
      @if (read().faults.length > 6) {
        <p class="fault">And {{ read().faults.length - 6 }} lines more.</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      margin-bottom: 10px;
      padding: 12px 14px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--sheet);
    }
    h2 {
      font-size: 15px;
    }
    p {
      color: var(--ink-soft);
      font-size: 13px;
    }
    p[role='status'] {
      color: var(--ink);
    }
    .fault {
      border-left: 3px solid var(--stop);
      padding-left: 8px;
      color: var(--ink);
    }
    .columns {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 12px;
    }
    .column {
      display: grid;
      gap: 2px;
      font-size: 13px;
    }
    textarea {
      padding: 6px 8px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      color: inherit;
      font-size: 13px;
      resize: vertical;
    }
    .row {
      display: flex;
      align-items: center;
      gap: 14px;
    }
    .space {
      flex: 1;
    }
    .file {
      padding: 4px 12px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      cursor: pointer;
    }
    .file:focus-within {
      outline: 2px solid var(--focus);
    }
    .file input {
      position: absolute;
      width: 1px;
      height: 1px;
      opacity: 0;
    }
  `,
})
export class ChartReader {
  /** The host that the rows are to be added to. */
  readonly taken = input.required<MessageHost>();
  /** The rows to add; none where nothing is to be. */
  readonly done = output<readonly HostRow[]>();
  protected readonly csv = signal('');
  protected readonly channel = signal(1);
  protected readonly problem = signal('');
  /** What columns are by choice; what Rondo took them for, up to the last chosen. */
  private readonly said = signal<readonly ChartColumnKind[]>([]);
  protected readonly kinds = CHART_COLUMNS.map((value) => ({ value, label: COLUMN_WORDS[value] }));
  protected readonly read = computed(() =>
    readChart(
      this.csv(),
      this.channel(),
      this.taken().rows.map(({ id }) => id),
      this.said(),
    ),
  );
  protected readonly words = computed(() => {
    const { rows, faults } = this.read();
    const some = rows
      .slice(0, SHOWN)
      .map(({ name, message }) => `${name} (${chartMessage(message)})`)
      .join(', ');
    const found = rows.length === 0 ? 'Nothing can be read yet.' : `${rows.length} found: ${some}`;
    const more = rows.length > SHOWN ? ' …' : rows.length > 0 ? '.' : '';
    const left =
      faults.length === 0
        ? ''
        : faults.length === 1
          ? ' One line is left out.'
          : ` ${faults.length} lines are left out.`;
    return found + more + left;
  });

  /** Another chart: what was said of the columns of the one before is forgotten where they are others. */
  protected write(csv: string): void {
    const headings = () =>
      this.read()
        .columns.map(({ heading }) => heading)
        .join('\n');
    const before = headings();
    this.csv.set(csv);
    if (headings() !== before) this.said.set([]);
  }

  protected say(at: number, as: ChartColumnKind): void {
    // One column of a kind: another that was it is left out.
    this.said.set(
      this.read().columns.map((column, i) =>
        i === at ? as : as !== 'none' && column.as === as ? 'none' : column.as,
      ),
    );
  }

  protected async open(box: HTMLInputElement): Promise<void> {
    const file = box.files?.[0];
    box.value = '';
    if (!file) return;
    if (file.size > LONGEST_CHART) {
      this.problem.set('The file is larger than 2 MB: no chart is. Choose another.');
      return;
    }
    this.problem.set('');
    this.write(await file.text());
  }
}
