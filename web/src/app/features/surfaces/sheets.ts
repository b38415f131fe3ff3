import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
} from '@angular/core';
import * as z from 'zod';
import { Button } from 'primeng/button';
import {
  changeControls,
  deviceSheet,
  hostSheet,
  type SheetItem,
  type Surface,
} from '@rondo/core/surface';
import { DocumentEditor } from '../../state/documents';

const ticksSchema = z.array(z.string());

interface Group {
  readonly name: string;
  readonly items: readonly SheetItem[];
}

function grouped(items: readonly SheetItem[]): Group[] {
  const groups = new Map<string, SheetItem[]>();
  for (const item of items) groups.set(item.group, [...(groups.get(item.group) ?? []), item]);
  return [...groups].map(([name, list]) => ({ name, items: list }));
}

/** Device sheet and host sheet: what to set in the device and in the real program, to tick and to print. */
@Component({
  selector: 'rondo-sheets',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <p>
        {{ done() }} of {{ total() }} ticked.
        @if (differences() > 0) {
          <b class="differs">
            {{ differences() === 1 ? 'One line differs' : differences() + ' lines differ' }} from
            what was taught.
          </b>
        }
      </p>
      <p-button
        label="Print"
        icon="pi pi-print"
        size="small"
        severity="secondary"
        [outlined]="true"
        (onClick)="print()"
      />
    </header>
    <div class="sheets">
      @for (sheet of sheets(); track sheet.name) {
        <article [attr.aria-label]="sheet.name">
          <h2>{{ sheet.name }} – {{ surface().name }}</h2>
          @for (group of sheet.groups; track group.name) {
            <h3>{{ group.name }}</h3>
            <ul>
              @for (item of group.items; track item.id) {
                <li [class.differs]="item.taught">
                  <label>
                    <input
                      type="checkbox"
                      [checked]="ticks().has(item.id)"
                      (change)="toggle(item.id)"
                    />
                    <span>{{ item.says }}</span>
                  </label>
                  @if (item.taught; as taught) {
                    <p>
                      Taught otherwise: {{ taught }}.
                      <button type="button" (click)="takeTaught(item)">Take what was taught</button>
                      <button type="button" (click)="keepSheet(item)">Keep the sheet</button>
                    </p>
                  }
                </li>
              }
            </ul>
          }
        </article>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      min-height: 0;
      height: 100%;
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 12px;
      padding: 6px 4px 8px;
    }
    .sheets {
      overflow: auto;
      padding-right: 4px;
    }
    article {
      margin-bottom: 18px;
      padding: 16px 20px;
      background: var(--raised);
      border: 1px solid var(--line);
    }
    h2 {
      font-size: 17px;
    }
    h3 {
      margin: 12px 0 2px;
      color: var(--ink-soft);
      font-size: 13px;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      border-bottom: 1px solid var(--line);
    }
    label {
      display: flex;
      align-items: baseline;
      gap: 10px;
      padding: 5px 0;
      cursor: pointer;
    }
    li.differs {
      padding-left: 8px;
      border-left: 6px solid;
      border-image: repeating-linear-gradient(-45deg, var(--stop) 0 3px, transparent 3px 6px) 6;
    }
    b.differs {
      color: var(--stop);
    }
    li p {
      padding: 0 0 6px 26px;
      font-size: 13px;
    }
    button {
      padding: 2px 8px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--sheet);
      cursor: pointer;
    }
  `,
})
export class Sheets {
  readonly surface = input.required<Surface>();
  private readonly editor = inject(DocumentEditor);

  protected readonly sheets = computed(() => [
    { name: 'Device sheet', groups: grouped(deviceSheet(this.surface())) },
    { name: 'Host sheet', groups: grouped(hostSheet(this.surface())) },
  ]);
  private readonly items = computed(() =>
    this.sheets().flatMap(({ groups }) => groups.flatMap(({ items }) => items)),
  );
  protected readonly total = computed(() => this.items().length);
  protected readonly done = computed(
    () => this.items().filter(({ id }) => this.ticks().has(id)).length,
  );
  protected readonly differences = computed(
    () => this.items().filter(({ taught }) => taught).length,
  );
  private readonly key = computed(() => `rondo.ticks.${this.surface().id}`);
  /** Ticked lines; they are of this machine, where the device stands. */
  protected readonly ticks = linkedSignal<ReadonlySet<string>>(() => readTicks(this.key()));

  protected toggle(id: string): void {
    const next = new Set(this.ticks());
    if (!next.delete(id)) next.add(id);
    this.ticks.set(next);
    try {
      localStorage.setItem(this.key(), JSON.stringify([...next]));
    } catch {
      // Without room the ticks last as long as the page.
    }
  }

  /** The sheet gives way: it asks for what was taught. */
  protected takeTaught({ control }: SheetItem): void {
    this.editor.edit('surface', (surface) =>
      changeControls(surface, 'Take what was taught', control ? [control] : [], (draft) => {
        Reflect.deleteProperty(draft, 'sheet');
      }),
    );
  }

  /** What was taught gives way: the device is to be set as the sheet asks. */
  protected keepSheet({ control }: SheetItem): void {
    this.editor.edit('surface', (surface) =>
      changeControls(surface, 'Keep the sheet', control ? [control] : [], (draft) => {
        Object.assign(draft.sends, draft.sheet?.sends);
        if (draft.sheet?.latching !== undefined) draft.latching = draft.sheet.latching;
        Reflect.deleteProperty(draft, 'sheet');
      }),
    );
  }

  protected print(): void {
    window.print();
  }
}

function readTicks(key: string): ReadonlySet<string> {
  try {
    return new Set(ticksSchema.parse(JSON.parse(localStorage.getItem(key) ?? '[]')));
  } catch {
    return new Set();
  }
}
