import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { TableModule } from 'primeng/table';
import {
  ROW_KINDS,
  TELLS,
  addRows,
  changeHost,
  chartMessage,
  feedbackText,
  hostFindings,
  nextRow,
  rangeText,
  readAsk,
  readCell,
  type HostRow,
  type RowKind,
  type Tells,
} from '@rondo/core/host';
import { documentActions } from '../../state/actions';
import { hostFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { DocumentHead } from '../../shared/ui/document-head';
import { SaveNotices } from '../../shared/ui/save-notices';
import { Shortcuts, undoKeys } from '../../shared/ui/shortcuts';
import { strokeOf } from '@rondo/core/wire';
import { ChartReader } from './chart-reader';
import { KeyCatcher } from './key-catcher';
import { RowCatcher } from './row-catcher';
import { Choice, TextField } from '../../shared/ui/form';

const KIND_WORDS: Readonly<Record<RowKind, string>> = {
  continuous: 'moves',
  toggle: 'on or off',
  trigger: 'does once',
  nudge: 'ticks',
};
const TELLS_WORDS: Readonly<Record<Tells, string>> = {
  all: 'everything, when it is asked and when it changes',
  changes: 'what changes, and nothing else',
  nothing: 'nothing at all',
};

type Column = 'message' | 'range' | 'feedback';

/** One message host: its chart, row by row. */
@Component({
  selector: 'rondo-chart',
  imports: [
    Button,
    ChartReader,
    Choice,
    DocumentHead,
    KeyCatcher,
    RowCatcher,
    SaveNotices,
    TableModule,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './chart.html',
  styleUrl: './chart.css',
})
export class Chart {
  /** Id of the host, from the address. */
  readonly id = input.required<string>();
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly state = this.store.selectSignal(hostFeature.selectHostState);
  protected readonly host = computed(() => this.state().document);
  protected readonly message = computed(() => this.state().message);
  protected readonly kinds = ROW_KINDS.map((value) => ({ value, label: KIND_WORDS[value] }));
  protected readonly tells = TELLS.map((value) => ({ value, label: TELLS_WORDS[value] }));
  protected readonly reading = signal(false);
  /** Rows are taken from what the device sends. */
  protected readonly catching = signal(false);
  /** What was typed and cannot be read, with why, by row and column: it stays until it is mended. */
  protected readonly faults = signal<
    Readonly<Record<string, { readonly text: string; readonly why: string } | undefined>>
  >({});
  protected readonly rows = computed(() => {
    const host = this.host();
    const found = host ? hostFindings(host) : [];
    return (host?.rows ?? []).map((row) => ({
      ...row,
      cells: {
        message: chartMessage(row.message),
        range: rangeText(row),
        feedback: feedbackText(row),
      } as Record<Column, string>,
      finding: found.find((one) => one.row === row.id)?.says ?? '',
    }));
  });
  /** Keys are pressed where the chart has none but keys, or nothing at all yet. */
  protected readonly takesPressed = computed(() => {
    const rows = this.host()?.rows ?? [];
    const isKey = ({ message }: HostRow) =>
      message.type === 'osc' && strokeOf(message.address) !== null;
    return rows.length <= 1 || rows.some(isKey);
  });
  protected readonly columns: readonly { field: Column; label: string; hint: string }[] = [
    { field: 'message', label: 'Message', hint: 'CC 74' },
    { field: 'range', label: 'Range', hint: 'all' },
    { field: 'feedback', label: 'Feedback', hint: 'same' },
  ];

  constructor() {
    inject(Shortcuts).add('Chart', [
      ...undoKeys(
        () => this.editor.undo('host'),
        () => this.editor.redo('host'),
      ),
    ]);
    effect(() => {
      const id = this.id();
      if (untracked(this.host)?.id !== id)
        this.store.dispatch(documentActions.open({ kind: 'host', id }));
    });
  }

  protected reopen(): void {
    this.store.dispatch(documentActions.open({ kind: 'host', id: this.id() }));
  }

  private change(name: string, recipe: Parameters<typeof changeHost>[2]): void {
    this.editor.edit('host', (host) => changeHost(host, name, recipe));
  }

  private changeRow(id: string, name: string, recipe: (row: HostRow) => void): void {
    this.change(name, (draft) => {
      const row = draft.rows.find((one) => one.id === id);
      if (row) recipe(row as HostRow);
    });
  }

  protected shown(row: { id: string; cells: Record<Column, string> }, column: Column): string {
    return this.faults()[`${row.id} ${column}`]?.text ?? row.cells[column];
  }

  protected faultOf(id: string): string {
    return (['message', 'range', 'feedback', 'name'] as const)
      .flatMap((column) => this.faults()[`${id} ${column}`]?.why ?? [])
      .join(' ');
  }

  private keep(id: string, column: string, text: string, why: string | null): void {
    this.faults.update((all) => ({
      ...all,
      [`${id} ${column}`]: why === null ? undefined : { text, why },
    }));
  }

  protected setCell(id: string, column: Column, text: string): void {
    const row = this.host()?.rows.find((one) => one.id === id);
    if (!row) return;
    const read = readCell(row, column, text);
    this.keep(id, column, text, 'fault' in read ? read.fault : null);
    if (!('fault' in read))
      this.changeRow(id, `${row.name}: ${column}`, (draft) => {
        draft.message = read.message;
        draft.feedback = read.feedback;
        const stroke = read.message.type === 'osc' ? strokeOf(read.message.address) : null;
        // A key is pressed once, or held as long as its control.
        if (column === 'message' && stroke) {
          draft.kind = stroke.way === 'press' ? 'trigger' : 'toggle';
          draft.feedback = 'none';
        }
      });
  }

  protected setName(id: string, text: string): void {
    const name = text.trim().slice(0, 40);
    this.keep(id, 'name', text, name === '' ? 'It needs a name.' : null);
    if (name !== '')
      this.changeRow(id, `Name ${name}`, (row) => {
        row.name = name;
      });
  }

  protected setKind(id: string, kind: string): void {
    const known = ROW_KINDS.find((one) => one === kind);
    if (known)
      this.changeRow(id, `What it does: ${KIND_WORDS[known]}`, (row) => {
        row.kind = known;
        if (known !== 'toggle') Reflect.deleteProperty(row, 'flips');
      });
  }

  protected setFlips(id: string, flips: boolean): void {
    this.changeRow(id, flips ? 'It only turns over' : 'It can be set', (row) => {
      row.flips = flips;
    });
  }

  protected addRow(): void {
    this.editor.edit('host', (host) => addRows(host, [nextRow(host)]));
  }

  protected add(row: HostRow): void {
    this.editor.edit('host', (host) => addRows(host, [row]));
  }

  protected take(rows: readonly HostRow[]): void {
    this.reading.set(false);
    if (rows.length > 0) this.editor.edit('host', (host) => addRows(host, rows));
  }

  protected remove(id: string): void {
    const row = this.host()?.rows.find((one) => one.id === id);
    if (row)
      this.change(`Remove ${row.name}`, (draft) => {
        draft.rows = draft.rows.filter((one) => one.id !== id);
      });
  }

  protected setTells(tells: string): void {
    const known = TELLS.find((one) => one === tells);
    if (known)
      this.change('What it tells', (draft) => {
        draft.tells = known;
      });
  }

  protected setAbout(about: string): void {
    this.change('What it is', (draft) => {
      draft.about = about.trim().slice(0, 200);
    });
  }

  protected setAsk(text: string): void {
    const isEmpty = text.trim() === '';
    const bad = !isEmpty && readAsk(text) === null;
    this.keep('', 'ask', text, bad ? 'It is SysEx as hex pairs: F0 first, F7 last.' : null);
    if (!bad)
      this.change('Send everything again', (draft) => {
        draft.ask = text.trim();
      });
  }
}
