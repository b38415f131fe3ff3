import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
} from '@angular/core';
import { Router } from '@angular/router';
import { Button } from 'primeng/button';
import { takeProposal, type Proposal, type ProposalPart, type Purpose } from '@rondo/core/propose';
import { LibraryService } from '../../../state/library';
import { Switch } from '../../../shared/ui/form';
import { PanelHead } from '../panels/panel-head';
import { Workbench } from '../workbench';
import { Proposer } from './proposer';

/** As many rows of a part are named; the drawing shows all that is bound. */
const NAMED = 8;

/** How many bindings are on the layer that is made for them. */
function layeredWords(bindings: ProposalPart['bindings']): string {
  const count = bindings.filter(({ layer }) => layer !== null).length;
  if (count === bindings.length) return 'On a layer of its own';
  return count === 1 ? '1 of them on a layer' : `${count} of them on a layer`;
}

/** What the controls that are free could do, part by part, shown on the drawing before anything is bound. */
@Component({
  selector: 'rondo-propose-panel',
  imports: [Button, PanelHead, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="A proposal" about="For what is not bound yet, until you take it." />
    <div class="body">
      @if (proposal(); as p) {
        @if (p.parts.length > 0) {
          <div class="row take">
            <p-button
              [label]="count() === 1 ? 'Take 1 binding' : 'Take ' + count() + ' bindings'"
              size="small"
              [disabled]="count() === 0"
              (onClick)="take()"
            />
            <p-button
              label="Leave it"
              size="small"
              severity="secondary"
              [text]="true"
              (onClick)="bench.panel.set('none')"
            />
            <small>One step of undo brings back what was.</small>
          </div>
        }
        <ul>
          @for (part of rows(); track part.purpose) {
            <li
              [class.off]="!part.on"
              (pointerenter)="look(part.purpose)"
              (focusin)="look(part.purpose)"
            >
              <rondo-switch [on]="part.on" (turned)="turn(part.purpose, $event)">
                <b>{{ part.label }}</b> {{ part.count }}
              </rondo-switch>
              <p>{{ part.why }}</p>
              <p class="some">{{ part.some }}</p>
              @if (part.key) {
                <p class="some">{{ part.layered }}: {{ part.key }} turns it on and off.</p>
              }
            </li>
          }
        </ul>
        @for (line of p.says; track line) {
          <p role="status">{{ line }}</p>
        }
      } @else {
        <p role="status">Looking at the controls …</p>
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    ul {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
      gap: 8px;
    }
    li {
      align-content: start;
      padding: 8px 10px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
    }
    .take {
      position: sticky;
      top: 0;
      z-index: 1;
      padding-bottom: 6px;
      background: var(--raised);
    }
    li.off {
      background: none;
    }
    li.off p {
      color: var(--ink-soft);
    }
    li p {
      margin-top: 3px;
      font-size: 13px;
      line-height: 1.35;
    }
    .some {
      color: var(--ink-soft);
    }
  `,
})
export class ProposePanel {
  protected readonly bench = inject(Workbench);
  private readonly router = inject(Router);
  private readonly library = inject(LibraryService);
  protected readonly proposal = signal<Proposal | null>(null);
  /** Parts that are left. */
  private readonly left = signal<ReadonlySet<Purpose>>(new Set());
  private readonly looked = signal<Purpose | null>(null);

  private readonly taken = computed(
    () =>
      new Set(
        (this.proposal()?.parts ?? [])
          .map(({ purpose }) => purpose)
          .filter((purpose) => !this.left().has(purpose)),
      ),
  );
  protected readonly rows = computed(() => {
    const profile = this.bench.profile();
    const parts = this.proposal()?.parts ?? [];
    if (!profile) return [];
    return parts.map(({ purpose, label, why, bindings, key }) => {
      const some = [
        ...new Set(bindings.map(({ action }) => this.bench.namesOf(profile).row(action))),
      ];
      return {
        purpose,
        label,
        why,
        on: this.taken().has(purpose),
        count: bindings.length,
        layered: layeredWords(bindings),
        some: some.slice(0, NAMED).join('; ') + (some.length > NAMED ? ' …' : ''),
        key: key && this.bench.controlName(key),
      };
    });
  });
  protected readonly count = computed(() =>
    this.rows().reduce((sum, { on, count }) => sum + (on ? count : 0), 0),
  );

  constructor() {
    const proposer = new Proposer(
      (proposal) => this.proposal.set(proposal),
      () =>
        this.proposal.set({
          parts: [],
          says: ['The proposal failed. Bind by hand: press / on a control.'],
        }),
    );
    effect(() => {
      const profile = this.bench.profile();
      if (!profile) return;
      const surfaces = profile.surfaceOrder.flatMap((id) => {
        const surface = this.library.surface(profile.surfaces[id].model);
        return surface ? [{ id, surface }] : [];
      });
      const hosts = profile.hostOrder.flatMap((id) => {
        const model = this.library.hostOf(profile, id);
        return model ? [{ id, model }] : [];
      });
      proposer.ask({ profile, surfaces, hosts });
    });
    // The drawing shows what would be.
    effect(() => {
      const profile = this.bench.profile();
      const proposal = this.proposal();
      if (!profile || !proposal) return;
      const { document } = takeProposal(profile, proposal, this.taken());
      const looked = this.looked();
      const label = proposal.parts.find(({ purpose, key }) => purpose === looked && key)?.label;
      const layer = document.layerOrder.findLast(
        (id) => !Object.hasOwn(profile.layers, id) && document.layers[id].label === label,
      );
      this.bench.preview.set({ profile: document, layer: layer ?? document.layerOrder[0] });
    });
    inject(DestroyRef).onDestroy(() => {
      proposer.end();
      this.bench.preview.set(null);
    });
  }

  protected look(purpose: Purpose): void {
    this.looked.set(purpose);
  }

  protected turn(purpose: Purpose, on: boolean): void {
    this.left.update((left) => {
      const next = new Set(left);
      if (on) next.delete(purpose);
      else next.add(purpose);
      return next;
    });
  }

  protected take(): void {
    const proposal = this.proposal();
    if (!proposal) return;
    const taken = this.taken();
    this.bench.panel.set('none');
    this.bench.edit((profile) => takeProposal(profile, proposal, taken));
    // The address asks for it no more, so that a reload does not.
    void this.router.navigate([], { queryParams: {}, replaceUrl: true });
  }
}
