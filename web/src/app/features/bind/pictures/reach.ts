import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Bracket } from '@rondo/core/profile';

/** The strips that one surface reaches now, and how they are marked. */
export interface Reach extends Bracket {
  /** Its name, for those who point at the mark. */
  readonly label: string;
  readonly strips: ReadonlySet<number>;
}

/** A thin bracket over one strip for each surface that reaches it. */
@Component({
  selector: 'rondo-reach',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (one of here(); track one.label) {
      <span
        class="bracket {{ one.pattern }} {{ one.colour }}"
        [class.first]="one.first"
        [class.last]="one.last"
        [style.top.px]="one.top"
      ></span>
      @if (one.first) {
        <b class="{{ one.colour }}" [title]="one.label" [style.left.px]="one.left">{{
          one.mark
        }}</b>
      }
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
      min-height: 12px;
    }
    .bracket {
      position: absolute;
      right: 0;
      bottom: 0;
      left: 0;
      border: 0 solid var(--tone);
      border-top-width: 2px;
      pointer-events: none;
    }
    .bracket.double {
      border-top-width: 3px;
    }
    .first {
      left: 2px;
      border-left-width: 2px;
    }
    .last {
      right: 2px;
      border-right-width: 2px;
    }
    .dashed {
      border-style: dashed;
    }
    .dotted {
      border-style: dotted;
    }
    .double {
      border-style: double;
    }
    b {
      position: absolute;
      top: 0;
      z-index: 1;
      padding: 0 2px;
      background: var(--sheet);
      color: var(--tone);
      font-size: 10px;
      line-height: 11px;
    }
    .teal {
      --tone: var(--mark-teal);
    }
    .amber {
      --tone: var(--mark-amber);
    }
    .violet {
      --tone: var(--mark-violet);
    }
    .green {
      --tone: var(--mark-green);
    }
    .red {
      --tone: var(--mark-red);
    }
    .blue {
      --tone: var(--mark-blue);
    }
  `,
})
export class ReachBrackets {
  readonly reaches = input.required<readonly Reach[]>();
  readonly strip = input.required<number>();
  /** Strips that stand in one row: a bracket ends with it, and begins anew in the next. */
  readonly inRow = input.required<number>();

  protected readonly here = computed(() => {
    const strip = this.strip();
    const inRow = this.inRow();
    return this.reaches()
      .filter(({ strips }) => strips.has(strip))
      .map((reach, at) => ({
        ...reach,
        first: strip % inRow === 0 || !reach.strips.has(strip - 1),
        last: strip % inRow === inRow - 1 || !reach.strips.has(strip + 1),
        top: FIRST_LINE + at * NEXT_LINE,
        left: 4 + at * MARK_WIDTH,
      }));
  });
}

const FIRST_LINE = 4;
const NEXT_LINE = 3;
const MARK_WIDTH = 18;
