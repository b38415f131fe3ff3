import { ChangeDetectionStrategy, Component, input, signal } from '@angular/core';
import { Button } from 'primeng/button';
import { words } from '../../state/api';

/**
 * Something that takes time and may fail: whether it is going on, and what went wrong with it last. The words stay until they
 * are dismissed or it is done again, whatever else is loaded meanwhile.
 */
export class Task {
  /** It is going on. */
  readonly busy = signal(false);
  /** Why it did not work; '' where it did. */
  readonly fault = signal('');
  private again: (() => Promise<unknown>) | null = null;
  /** Counts what was begun, so that only the last of several says how it ended. */
  private begun = 0;

  /** Does some work; whether it worked. What fails can be tried again. */
  async run(work: () => Promise<unknown>): Promise<boolean> {
    const mine = ++this.begun;
    this.busy.set(true);
    try {
      await work();
      if (mine === this.begun) this.fault.set('');
      return true;
    } catch (error) {
      if (mine === this.begun) {
        this.again = work;
        this.fault.set(words(error));
      }
      return false;
    } finally {
      if (mine === this.begun) this.busy.set(false);
    }
  }

  tryAgain(): void {
    if (this.again) void this.run(this.again);
  }

  dismiss(): void {
    this.fault.set('');
  }
}

/** What went wrong with a task, with the way to try it again. */
@Component({
  selector: 'rondo-task-fault',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (task().fault(); as text) {
      <p role="alert">
        <span>{{ text }}</span>
        <p-button
          label="Try again"
          size="small"
          [outlined]="true"
          [disabled]="task().busy()"
          (onClick)="task().tryAgain()"
        />
        <p-button
          label="Dismiss"
          size="small"
          severity="secondary"
          [text]="true"
          (onClick)="task().dismiss()"
        />
      </p>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    p {
      display: flex;
      flex: 1 0 100%;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
      padding-left: 10px;
      border-left: 4px solid var(--stop);
      color: var(--ink);
    }
  `,
})
export class TaskFault {
  readonly task = input.required<Task>();
}
