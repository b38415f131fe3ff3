import { turns, type Surface } from '@rondo/core/surface';
import type { Desk } from '@rondo/core/standin';
import type { GlassChanges } from '@rondo/core/wire';

/** What a simulated surface shows, as glasses are told: whole at first, then what has changed. */
export class GlassFace {
  private readonly at: number[];
  private readonly out: number[];
  private readonly text: string[];
  private readonly isTurned: readonly boolean[];

  constructor(readonly desk: Desk) {
    const { surface } = desk;
    this.isTurned = surface.controls.map((control) => turns(surface, control, 'value'));
    // Nothing equals these, so that the first changes are everything.
    this.at = surface.controls.map(() => NaN);
    this.out = desk.outs.map(() => NaN);
    this.text = desk.outs.map(() => '');
  }

  get surface(): Surface {
    return this.desk.surface;
  }

  /** What has changed since it was asked last; null for nothing. */
  changes(): GlassChanges | null {
    const { desk } = this;
    const at: [number, number][] = [];
    const out: [number, number][] = [];
    const text: [number, string][] = [];
    desk.surface.controls.forEach(({ id }, i) => {
      const now = this.isTurned[i] ? desk.turned(id) : desk.position(id);
      if (now === this.at[i]) return;
      this.at[i] = now;
      at.push([i, now]);
    });
    for (let i = 0; i < this.out.length; i++) {
      if (desk.outputs[i] !== this.out[i]) {
        this.out[i] = desk.outputs[i];
        out.push([i, desk.outputs[i]]);
      }
      if (desk.texts[i] !== this.text[i]) {
        this.text[i] = desk.texts[i];
        text.push([i, desk.texts[i]]);
      }
    }
    if (at.length + out.length + text.length === 0) return null;
    return {
      ...(at.length > 0 ? { at } : {}),
      ...(out.length > 0 ? { out } : {}),
      ...(text.length > 0 ? { text } : {}),
    };
  }
}
