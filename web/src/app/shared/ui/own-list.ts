import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  type OnInit,
  computed,
  inject,
  input,
  signal,
  viewChildren,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { documentActions, listActions } from '../../state/actions';
import { selectStateOf } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { DraftSaver } from '../../state/draft-saver';
import { SCREEN_OF, type AnyDocument, type Kind } from '../../state/kinds';
import { WholeFile } from '../../state/whole-file';
import { selectListOf } from '../../state/list';
import { Api } from '../../state/api';
import { GoTo } from './go-to';
import { SaveAlone } from './save-alone';
import { UnsavedList } from './unsaved';

/** What the user has made of a kind: open it, give it another name, duplicate it, delete it. */
@Component({
  selector: 'rondo-own-list',
  imports: [Button, DatePipe, GoTo, InputText, RouterLink, SaveAlone, UnsavedList],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (list().message; as text) {
      <p class="trouble" role="alert">
        {{ text }} <p-button label="Close" size="small" [text]="true" (onClick)="load()" />
      </p>
    }
    <rondo-unsaved [kind]="kind()" />
    @if (list().documents; as own) {
      <ul>
        @for (one of own; track one.id) {
          <li>
            @if (renaming() === one.id) {
              <input
                #name
                pInputText
                [attr.aria-label]="'Name of the ' + kind()"
                maxlength="60"
                [value]="one.name"
                (keydown.enter)="rename(one.id, one.name, name.value)"
                (keydown.escape)="renaming.set(null)"
                (blur)="rename(one.id, one.name, name.value)"
              />
            } @else {
              <a [routerLink]="[screen(), one.id]">{{ one.name }}</a>
            }
            <span class="when">{{ one.updatedAt | date: 'd MMM, HH:mm' }}</span>
            <span class="does">
              <p-button
                label="Rename"
                size="small"
                [text]="true"
                severity="secondary"
                (onClick)="startRename(one.id)"
              />
              <p-button
                label="Duplicate"
                size="small"
                [text]="true"
                severity="secondary"
                (onClick)="duplicate(one.id)"
              />
              <rondo-save-alone [name]="one.name" [what]="whatOf(one.id)" />
              <p-button
                label="Delete"
                size="small"
                [text]="true"
                severity="secondary"
                (onClick)="remove(one.id, one.name)"
              />
              <p-button
                label="Open"
                size="small"
                [outlined]="true"
                [rondoGoTo]="[screen(), one.id]"
              />
            </span>
          </li>
        } @empty {
          <li class="empty">{{ empty() }}</li>
        }
      </ul>
    } @else if (!list().message) {
      <p class="when" role="status">Loading {{ kind() }}s …</p>
    }
  `,
  styles: `
    :host {
      display: block;
      max-width: 1120px;
    }
    .when,
    .empty {
      color: var(--ink-soft);
    }
    .when {
      font-size: 13px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      border-top: 1px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 1fr auto auto;
      align-items: center;
      gap: 24px;
      min-height: 52px;
      border-bottom: 1px solid var(--line);
    }
    a {
      justify-self: start;
      padding: 5px 12px;
      background: var(--tape);
      color: var(--tape-ink);
      font-size: 16px;
      font-weight: 600;
      text-decoration: none;
    }
    a:hover {
      text-decoration: underline;
    }
    .does {
      display: flex;
      gap: 2px;
    }
    .trouble {
      padding: 10px 14px;
      margin-bottom: 14px;
      border-left: 4px solid var(--stop);
      background: var(--raised);
    }
  `,
})
export class OwnList implements OnInit {
  readonly kind = input.required<'surface' | 'host'>();
  /** What is said where there is none. */
  readonly empty = input.required<string>();
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly api = inject(Api);
  private readonly files = inject(WholeFile);
  private readonly saver = inject(DraftSaver);
  private readonly lists = {
    surface: this.store.selectSignal(selectListOf.surface),
    host: this.store.selectSignal(selectListOf.host),
  };
  private readonly opened = {
    surface: this.store.selectSignal(selectStateOf.surface),
    host: this.store.selectSignal(selectStateOf.host),
  };
  protected readonly list = computed(() => this.lists[this.kind()]());
  protected readonly screen = computed(() => SCREEN_OF[this.kind()]);
  protected readonly renaming = signal<string | null>(null);
  private readonly nameFields = viewChildren<ElementRef<HTMLInputElement>>('name');

  load(): void {
    this.store.dispatch(listActions.load({ kind: this.kind() }));
  }

  ngOnInit(): void {
    this.load();
  }

  /** A name like this one that none of them has. */
  freshName(stem: string): string {
    const names = new Set((this.list().documents ?? []).map(({ name }) => name));
    let name = stem;
    for (let n = 2; names.has(name); n++) name = `${stem} ${n}`;
    return name;
  }

  /** Makes one and opens it. */
  create(document: AnyDocument): void {
    this.store.dispatch(listActions.create({ kind: this.kind(), document, open: true }));
  }

  protected startRename(id: string): void {
    this.renaming.set(id);
    setTimeout(() => this.nameFields()[0]?.nativeElement.select());
  }

  private isOpen(id: string): boolean {
    return this.opened[this.kind()]().document?.id === id;
  }

  protected rename(id: string, before: string, typed: string): void {
    if (this.renaming() !== id) return;
    this.renaming.set(null);
    const kind = this.kind();
    const name = typed.trim();
    if (name === '' || name === before) return;
    // What is open is renamed where its other edits are, or the two would get in each other's way.
    if (this.isOpen(id)) this.editor.rename(kind, name);
    else this.store.dispatch(listActions.rename({ kind, id, name }));
  }

  /** One of them for a file of its own: as it is on the screen, saved or not. */
  protected whatOf(id: string) {
    return async () => {
      const kind = this.kind();
      const open = this.opened[kind]().document;
      const mine = open?.id === id ? open : await this.saver.document(kind, id);
      return this.files.of(kind, mine ?? (await this.api.open<Kind>(kind, id)).document);
    };
  }

  protected duplicate(id: string): void {
    this.store.dispatch(listActions.duplicate({ kind: this.kind(), id }));
  }

  protected remove(id: string, name: string): void {
    const kind = this.kind();
    if (this.isOpen(id)) this.store.dispatch(documentActions.close({ kind }));
    this.store.dispatch(listActions.delete({ kind, id, name }));
  }
}
