import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  signal,
  viewChildren,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { STOCK_SURFACES, blankSurface, type Surface } from '@rondo/core/surface';
import { Thumb } from '../panel/thumb';
import { documentActions, listActions } from '../state/actions';
import { freshId } from '../state/api';
import { surfaceFeature } from '../state/document';
import { DocumentEditor } from '../state/documents';
import { listFeature } from '../state/list';

/** The surfaces: the user's own, and the library to start from. */
@Component({
  selector: 'rondo-surfaces',
  imports: [Button, DatePipe, InputText, RouterLink, Thumb],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <div>
        <h1>Surfaces</h1>
        <p>What your controllers look like and what each of their controls sends and takes.</p>
      </div>
      <p-button label="Draw a new one" icon="pi pi-plus" (onClick)="draw()" />
    </header>
    @if (list().message; as text) {
      <p class="trouble" role="alert">
        {{ text }} <p-button label="Close" size="small" [text]="true" (onClick)="load()" />
      </p>
    }
    <h2>Your own</h2>
    @if (list().documents; as own) {
      <ul class="own">
        @for (surface of own; track surface.id) {
          <li>
            @if (renaming() === surface.id) {
              <input
                #name
                pInputText
                aria-label="Name of the surface"
                maxlength="60"
                [value]="surface.name"
                (keydown.enter)="rename(surface.id, surface.name, name.value)"
                (keydown.escape)="renaming.set(null)"
                (blur)="rename(surface.id, surface.name, name.value)"
              />
            } @else {
              <a [routerLink]="['/surfaces', surface.id]">{{ surface.name }}</a>
            }
            <span class="when">{{ surface.updatedAt | date: 'd MMM, HH:mm' }}</span>
            <span class="does">
              <p-button
                label="Rename"
                size="small"
                [text]="true"
                severity="secondary"
                (onClick)="startRename(surface.id)"
              />
              <p-button
                label="Duplicate"
                size="small"
                [text]="true"
                severity="secondary"
                (onClick)="duplicate(surface.id)"
              />
              <p-button
                label="Delete"
                size="small"
                [text]="true"
                severity="secondary"
                (onClick)="remove(surface.id, surface.name)"
              />
              <p-button
                label="Open"
                size="small"
                [outlined]="true"
                [routerLink]="['/surfaces', surface.id]"
              />
            </span>
          </li>
        } @empty {
          <li class="empty">
            None yet. Copy one from the library below, or draw a new one and teach it by touch.
          </li>
        }
      </ul>
    } @else if (!list().message) {
      <p class="when" role="status">Loading surfaces …</p>
    }
    <h2>Library</h2>
    <ul class="library">
      @for (surface of stock; track surface.id) {
        <li>
          <rondo-thumb [surface]="surface" />
          <div>
            <h3>{{ surface.name }}</h3>
            <p>{{ surface.about }}</p>
          </div>
          <p-button
            label="Copy"
            size="small"
            severity="secondary"
            [outlined]="true"
            [ariaLabel]="'Copy ' + surface.name"
            (onClick)="copy(surface)"
          />
        </li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: block;
      height: 100%;
      overflow: auto;
      padding: 28px 40px;
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: end;
      gap: 24px;
      max-width: 1120px;
    }
    h1 {
      font-size: 28px;
      letter-spacing: -0.01em;
    }
    h2 {
      margin: 22px 0 8px;
      font-size: 16px;
    }
    h3 {
      font-size: 15px;
    }
    header p,
    .when,
    .library p,
    .empty {
      color: var(--ink-soft);
    }
    .when,
    .library p {
      font-size: 13px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      max-width: 1120px;
    }
    .own {
      border-top: 1px solid var(--line);
    }
    .own li {
      display: grid;
      grid-template-columns: 1fr auto auto;
      align-items: center;
      gap: 24px;
      min-height: 52px;
      border-bottom: 1px solid var(--line);
    }
    .own a {
      justify-self: start;
      padding: 5px 12px;
      background: var(--tape);
      color: var(--tape-ink);
      font-size: 16px;
      font-weight: 600;
      text-decoration: none;
    }
    .own a:hover {
      text-decoration: underline;
    }
    .does {
      display: flex;
      gap: 2px;
    }
    .library {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
      gap: 10px;
    }
    .library li {
      display: grid;
      grid-template-columns: 92px 1fr auto;
      align-items: center;
      gap: 12px;
      min-height: 78px;
      padding: 8px 10px;
      border: 1px solid var(--line);
      border-radius: 6px;
      background: var(--sheet);
    }
    rondo-thumb {
      width: 92px;
      height: 62px;
    }
    .trouble {
      max-width: 1120px;
      padding: 10px 14px;
      margin-top: 14px;
      border-left: 4px solid var(--stop);
      background: var(--raised);
    }
  `,
})
export class Surfaces {
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly open = this.store.selectSignal(surfaceFeature.selectDocument);
  protected readonly list = this.store.selectSignal(listFeature.selectSurface);
  protected readonly stock = [...STOCK_SURFACES.values()].filter(({ id }) => id !== 'blank');
  protected readonly renaming = signal<string | null>(null);
  private readonly nameFields = viewChildren<ElementRef<HTMLInputElement>>('name');
  private readonly names = computed(
    () => new Set((this.list().documents ?? []).map(({ name }) => name)),
  );

  constructor() {
    this.load();
  }

  protected load(): void {
    this.store.dispatch(listActions.load({ kind: 'surface' }));
  }

  private freshName(stem: string): string {
    let name = stem;
    for (let n = 2; this.names().has(name); n++) name = `${stem} ${n}`;
    return name;
  }

  private create(document: Surface): void {
    this.store.dispatch(listActions.create({ kind: 'surface', document, open: true }));
  }

  protected draw(): void {
    this.create(blankSurface(freshId('surface'), this.freshName('New surface')));
  }

  protected copy(stock: Surface): void {
    const name = this.freshName(`My ${stock.name}`);
    this.create({ ...stock, id: freshId('surface'), name });
  }

  protected startRename(id: string): void {
    this.renaming.set(id);
    setTimeout(() => this.nameFields()[0]?.nativeElement.select());
  }

  protected rename(id: string, before: string, typed: string): void {
    if (this.renaming() !== id) return;
    this.renaming.set(null);
    const name = typed.trim();
    if (name === '' || name === before) return;
    // The open surface is renamed where its other edits are, or the two would get in each other's way.
    if (this.open()?.id === id) this.editor.rename('surface', name);
    else this.store.dispatch(listActions.rename({ kind: 'surface', id, name }));
  }

  protected duplicate(id: string): void {
    this.store.dispatch(listActions.duplicate({ kind: 'surface', id }));
  }

  protected remove(id: string, name: string): void {
    if (this.open()?.id === id) this.store.dispatch(documentActions.close({ kind: 'surface' }));
    this.store.dispatch(listActions.delete({ kind: 'surface', id, name }));
  }
}
