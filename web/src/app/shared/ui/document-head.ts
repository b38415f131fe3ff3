import { TextField } from './form';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Tooltip } from 'primeng/tooltip';
import { lastNames, selectStateOf } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import type { Kind } from '../../state/kinds';
import { saveWords } from './save-notices';

/** The way back, the name of the open document, whether it is saved, undo and redo. */
@Component({
  selector: 'rondo-document-head',
  imports: [Button, RouterLink, Tooltip, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <a class="back" [routerLink]="back()" [attr.aria-label]="'All ' + kind() + 's'"
      ><i class="pi pi-angle-left" aria-hidden="true"></i
    ></a>
    @if (state().document; as open) {
      <input
        #name
        class="name"
        [attr.aria-label]="'Name of the ' + kind()"
        [attr.maxlength]="kind() === 'profile' ? 80 : 60"
        [rondoText]="open.name"
        (change)="rename(name.value)"
        (keydown.enter)="name.blur()"
      />
      <span class="save" [attr.data-save]="state().save" [title]="words()" role="status">{{
        words()
      }}</span>
      <span class="tools">
        <p-button
          icon="pi pi-undo"
          [text]="true"
          severity="secondary"
          [disabled]="!names().undo"
          [pTooltip]="names().undo ? 'Undo: ' + names().undo : 'Nothing to undo'"
          tooltipPosition="bottom"
          ariaLabel="Undo"
          (onClick)="editor.undo(kind())"
        />
        <p-button
          icon="pi pi-replay"
          [text]="true"
          severity="secondary"
          [disabled]="!names().redo"
          [pTooltip]="names().redo ? 'Redo: ' + names().redo : 'Nothing to redo'"
          tooltipPosition="bottom"
          ariaLabel="Redo"
          (onClick)="editor.redo(kind())"
        />
      </span>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    .back {
      display: grid;
      place-items: center;
      width: 28px;
      height: 32px;
      color: var(--ink-soft);
      text-decoration: none;
    }
    .name {
      flex: 0 1 220px;
      min-width: 90px;
      padding: 5px 8px;
      border: 1px solid transparent;
      border-radius: 4px;
      background: none;
      font-size: 16px;
      font-weight: 700;
      text-overflow: ellipsis;
    }
    .name:hover,
    .name:focus {
      border-color: var(--line-strong);
      background: var(--raised);
    }
    .save {
      color: var(--ink-soft);
      /* As wide whatever it says, so that nothing moves when something is saved. */
      flex: 0 0 86px;
      overflow: hidden;
      font-size: 13px;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .save[data-save='away'],
    .save[data-save='stale'],
    .save[data-save='refused'] {
      color: var(--stop);
      font-weight: 600;
    }
    .tools {
      display: flex;
    }
    @media print {
      .save {
        display: none;
      }
    }
  `,
})
export class DocumentHead {
  readonly kind = input.required<Kind>();
  /** Where the list of all is. */
  readonly back = input.required<string>();
  private readonly store = inject(Store);
  protected readonly editor = inject(DocumentEditor);
  private readonly states = {
    profile: this.store.selectSignal(selectStateOf.profile),
    surface: this.store.selectSignal(selectStateOf.surface),
    host: this.store.selectSignal(selectStateOf.host),
  };
  protected readonly state = computed(() => this.states[this.kind()]());
  protected readonly words = computed(() => saveWords(this.state().save));
  protected readonly names = computed(() => lastNames(this.state()));

  protected rename(name: string): void {
    this.editor.rename(this.kind(), name);
  }
}
