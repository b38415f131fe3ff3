import { ChangeDetectionStrategy, Component, input, signal } from '@angular/core';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { Popover } from 'primeng/popover';
import { Textarea } from 'primeng/textarea';
import { aloneFile, type RondoFile } from '@rondo/core/formats';
import { words } from '../../state/api';
import { TextField } from './form';
import { Over } from './over';
import { saveFile } from './save-file';

/** Who saved something last, in this browser: people sign all that they pass on by one name. */
const AUTHOR = 'rondo.author';

/** Saves one thing by itself as a file, with who made it and what there is to say about it. */
@Component({
  selector: 'rondo-save-alone',
  imports: [Button, InputText, Over, Popover, Textarea, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-button
      label="To a file"
      size="small"
      severity="secondary"
      [text]="true"
      [ariaLabel]="name() + ' to a file'"
      (onClick)="said.toggle($event)"
    />
    <p-popover #said>
      <form (submit)="$event.preventDefault(); save(author.value, notes.value); said.hide()">
        <label>
          Made by
          <input
            #author
            pInputText
            pSize="small"
            type="text"
            maxlength="200"
            [rondoText]="who()"
            (change)="who.set(author.value)"
          />
        </label>
        <label>
          Notes
          <textarea #notes pTextarea pSize="small" rows="3" maxlength="4000"></textarea>
        </label>
        <p-button type="submit" label="Save the file" size="small" />
      </form>
    </p-popover>
    @if (message(); as text) {
      <small role="alert">{{ text }}</small>
    }
  `,
  styles: `
    form,
    label {
      display: grid;
      gap: 6px;
      justify-items: start;
    }
    form {
      gap: 10px;
    }
    input,
    textarea {
      width: 260px;
    }
  `,
})
export class SaveAlone {
  readonly name = input.required<string>();
  readonly what =
    input.required<
      () => Promise<Partial<Pick<RondoFile, 'surfaces' | 'hosts' | 'palettes' | 'layers'>>>
    >();
  protected readonly message = signal('');
  protected readonly who = signal(read());

  protected async save(author: string, notes: string): Promise<void> {
    const about = {
      ...(author.trim() ? { author: author.trim() } : {}),
      ...(notes.trim() ? { notes: notes.trim() } : {}),
    };
    keep(author.trim());
    this.who.set(author.trim());
    try {
      saveFile(this.name(), aloneFile(await this.what()(), about));
      this.message.set('');
    } catch (error) {
      this.message.set(words(error));
    }
  }
}

// A browser that keeps nothing forgets the name, no more.
function read(): string {
  try {
    return localStorage.getItem(AUTHOR) ?? '';
  } catch {
    return '';
  }
}
function keep(author: string): void {
  try {
    localStorage.setItem(AUTHOR, author);
  } catch {
    // See above.
  }
}
