import { partKey, type Engine } from '@rondo/core/round';
import { mainPart, readTextRule, turns } from '@rondo/core/surface';
import type { Desk } from '@rondo/core/standin';
import { DOES_AND_WHOSE, type GlassChanges } from '@rondo/core/wire';

const FUNCTION = readTextRule('{function}');
const TRACK = readTextRule('{track}');
/** How often it is looked what controls do, µs: that changes with layers, banks and edits. */
const LOOK_EVERY = 250_000;

/** What a simulated surface shows, as glasses are told: whole at first, then what has changed. */
export class GlassFace {
  private readonly at: number[];
  private readonly out: number[];
  private readonly text: string[];
  private readonly isTurned: readonly boolean[];
  private readonly does: string[];
  private page = 0;
  private lookedAt = -Infinity;

  /** @param id of the surface in the profile */
  constructor(
    readonly desk: Desk,
    private readonly id: string,
  ) {
    const { surface } = desk;
    this.isTurned = surface.controls.map((control) => turns(surface, control, 'value'));
    // Nothing equals these, so that the first changes are everything.
    this.at = surface.controls.map(() => NaN);
    this.out = desk.outs.map(() => NaN);
    this.text = desk.outs.map(() => '');
    this.does = surface.controls.map(() => '');
  }

  /** What controls do, where that has changed. */
  private deeds(engine: Engine, now: number): [number, string][] {
    if (now - this.lookedAt < LOOK_EVERY) return [];
    this.lookedAt = now;
    const parts = new Map(engine.plan.parts.map(({ key }, part) => [key, part]));
    return this.desk.surface.controls.flatMap(({ id, kind }, i): [number, string][] => {
      const main = mainPart(kind);
      const part = main === null ? undefined : parts.get(partKey(this.id, id, main));
      if (part === undefined) return [];
      const words = [FUNCTION, TRACK].map((rule) => engine.textBy(rule, part).trim());
      const says = [...new Set(words)].filter(Boolean).join(DOES_AND_WHOSE);
      if (says === this.does[i]) return [];
      this.does[i] = says;
      return [[i, says]];
    });
  }

  /**
   * What has changed since it was asked last; null for nothing.
   * @param now µs
   */
  changes(engine: Engine, now: number): GlassChanges | null {
    const does = this.deeds(engine, now);
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
    const isTurned = desk.onPage !== this.page;
    this.page = desk.onPage;
    if (!isTurned && at.length + out.length + text.length + does.length === 0) return null;
    return {
      ...(isTurned ? { page: this.page } : {}),
      ...(at.length > 0 ? { at } : {}),
      ...(out.length > 0 ? { out } : {}),
      ...(text.length > 0 ? { text } : {}),
      ...(does.length > 0 ? { does } : {}),
    };
  }

  /** All that was told so far, for a glass that has just come. */
  whole(): GlassChanges {
    const numbered = <T>(list: readonly T[]) => list.map((one, i): [number, T] => [i, one]);
    const { page } = this;
    return {
      page,
      at: numbered(this.at),
      out: numbered(this.out),
      text: numbered(this.text),
      does: numbered(this.does),
    };
  }
}
