import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { DraftSaver } from '../../state/draft-saver';
import type { Unsaved } from '../../state/drafts';
import { SCREEN_OF, type Kind } from '../../state/kinds';
import { WholeFile } from '../../state/whole-file';
import { saveFile } from './save-file';
import { Task, TaskFault } from './task';

/** What of a kind is not saved yet, since when, why, and what to do. */
@Component({
  selector: 'rondo-unsaved',
  imports: [Button, DatePipe, RouterLink, TaskFault],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (one of list(); track one.kind + one.id) {
      <div role="status">
        <p>
          <b>{{ one.name }}</b> is not saved since {{ one.since | date: 'd MMM, HH:mm' }}:
          {{ why(one) }}
        </p>
        <a [routerLink]="[screens[one.kind], one.id]">Open it</a>
        @if (one.trouble === null) {
          <p-button label="Try now" size="small" [outlined]="true" (onClick)="saver.tryNow()" />
        } @else {
          <p-button
            label="Keep mine as a new one"
            size="small"
            [outlined]="true"
            (onClick)="keep(one)"
          />
        }
        <p-button
          label="To a file"
          size="small"
          severity="secondary"
          [text]="true"
          (onClick)="toFile(one)"
        />
        @if (asked() === one.id) {
          <p-button
            label="Give up my edits: sure?"
            size="small"
            severity="danger"
            (onClick)="giveUp(one)"
          />
        } @else {
          <p-button
            label="Give up my edits"
            size="small"
            severity="secondary"
            [text]="true"
            (onClick)="asked.set(one.id)"
          />
        }
      </div>
    }
    <rondo-task-fault [task]="task" />
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      max-width: 1000px;
    }
    div {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px 12px;
      padding: 6px 12px;
      border-left: 4px solid var(--stop);
      background: var(--raised);
    }
    p {
      flex: 1 1 320px;
      margin: 0;
    }
    a {
      color: var(--forward);
    }
  `,
})
export class UnsavedList {
  readonly kind = input.required<Kind>();
  protected readonly saver = inject(DraftSaver);
  private readonly files = inject(WholeFile);
  protected readonly screens = SCREEN_OF;
  protected readonly asked = signal<string | null>(null);
  protected readonly task = new Task();
  protected readonly list = computed(() =>
    this.saver.unsaved().filter(({ kind }) => kind === this.kind()),
  );

  protected why({ trouble }: Unsaved): string {
    if (trouble === null) return 'the server has not answered. It is sent as soon as it does.';
    return trouble.failure === 'stale'
      ? 'it was saved in another browser meanwhile. Open it to choose which one stays.'
      : `the server has refused it. ${trouble.message}`;
  }

  protected keep({ kind, id }: Unsaved): void {
    void this.task.run(() => this.saver.keepAsNew(kind, id));
  }

  protected giveUp({ kind, id }: Unsaved): void {
    this.asked.set(null);
    void this.task.run(() => this.saver.giveUp(kind, id));
  }

  protected toFile({ kind, id, name }: Unsaved): void {
    void this.task.run(async () => {
      const document = await this.saver.document(kind, id);
      if (document) saveFile(name, await this.files.of(kind, document));
    });
  }
}
