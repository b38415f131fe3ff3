import { ChangeDetectionStrategy, Component, viewChild } from '@angular/core';
import { Button } from 'primeng/button';
import { STOCK_SURFACES, blankSurface, type Surface } from '@rondo/core/surface';
import { Thumb } from '../../shared/panel/thumb';
import { freshId } from '../../state/api';
import { OwnList } from '../../shared/ui/own-list';

/** The surfaces: the user's own, and the library to start from. */
@Component({
  selector: 'rondo-surfaces',
  imports: [Button, OwnList, Thumb],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <div>
        <h1>Surfaces</h1>
        <p>What your controllers look like and what each of their controls sends and takes.</p>
      </div>
      <p-button label="Draw a new one" icon="pi pi-plus" (onClick)="draw()" />
    </header>
    <h2>Your own</h2>
    <rondo-own-list
      kind="surface"
      empty="None yet. Copy one from the library below, or draw a new one and teach it by touch."
    />
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
    .library p {
      color: var(--ink-soft);
    }
    .library p {
      font-size: 13px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      max-width: 1120px;
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
  `,
})
export class Surfaces {
  private readonly own = viewChild.required(OwnList);
  protected readonly stock = [...STOCK_SURFACES.values()].filter(({ id }) => id !== 'blank');

  protected draw(): void {
    const own = this.own();
    own.create(blankSurface(freshId('surface'), own.freshName('New surface')));
  }

  protected copy(stock: Surface): void {
    const own = this.own();
    own.create({ ...stock, id: freshId('surface'), name: own.freshName(`My ${stock.name}`) });
  }
}
