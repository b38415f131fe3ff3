import { ChangeDetectionStrategy, Component, viewChild } from '@angular/core';
import { Button } from 'primeng/button';
import { BOOTH, STUDIO, blankHost } from '@rondo/core/host';
import { freshId } from '../../state/api';
import { OwnList } from '../../shared/ui/own-list';

/** The hosts: programs and synths by their charts, which the user writes, and what needs no chart. */
@Component({
  selector: 'rondo-hosts',
  imports: [Button, OwnList],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <div>
        <h1>Hosts</h1>
        <p>What you steer: a program, a mixer, a synth, and what it can be told.</p>
      </div>
      <p-button label="Write a new one" icon="pi pi-plus" (onClick)="write()" />
    </header>
    <h2>Your own</h2>
    <rondo-own-list
      kind="host"
      empty="None yet. Write one from the chart of controllers in its manual, or read that chart from CSV."
    />
    <h2>That need no chart</h2>
    <ul>
      @for (host of simulated; track host.id) {
        <li>
          <h3>{{ host.name }}</h3>
          <p>{{ host.about }}</p>
        </li>
      }
      <li>
        <h3>Any program that expects a surface</h3>
        <p>
          It knows the messages of one desk or controller and nothing else. Add it to a profile and
          say which surface it expects: Rondo stands in for that with the surfaces that you have.
        </p>
      </li>
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
    p {
      color: var(--ink-soft);
    }
    li p {
      margin-top: 4px;
      font-size: 13px;
      line-height: 1.45;
    }
    ul {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
      gap: 10px;
      max-width: 1120px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      padding: 12px 14px;
      border: 1px solid var(--line);
      border-radius: 6px;
      background: var(--sheet);
    }
  `,
})
export class Hosts {
  private readonly own = viewChild.required(OwnList);
  protected readonly simulated = [STUDIO, BOOTH];

  protected write(): void {
    const own = this.own();
    own.create(blankHost(freshId('host'), own.freshName('New host')));
  }
}
