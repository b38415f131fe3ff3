import type { HostFunction } from '@rondo/core/host';
import {
  heldField,
  lightTarget,
  readTextRule,
  takesOf,
  type ReturnLevels,
  type ReturnSettings,
  type RulePiece,
} from '@rondo/core/surface';
import { LightRule } from './light-rule.js';
import type { PlainPlan } from './plain.js';
import { type OutPlan, Shows } from './out-plan.js';

/** What comes back to an output, made ready. */
export interface OutRule {
  readonly feedback: boolean;
  readonly motor: boolean;
  readonly invert: boolean;
  readonly ring: NonNullable<ReturnSettings['ring']>;
  readonly light: LightRule | null;
  readonly text: readonly RulePiece[];
  /** How long a meter's highest place stays, µs. */
  readonly peak: number;
}

/** Looks that are kept worked out. */
const MOST_LOOKS = 4_096;

const METER_USUAL: ReturnSettings = { by: 'bands' };
const TOLD_USUAL: ReturnSettings = { by: 'told' };
const usuals = new Map<string, ReturnSettings>();

/** What comes back where nobody says otherwise, as a function has it in the trade; the same object for alike ones. */
export function usualReturns(
  fn: Pick<HostFunction, 'kind' | 'colour' | 'lamp'> | undefined,
): ReturnSettings | undefined {
  if (fn?.kind === 'meter') return METER_USUAL;
  if (fn?.lamp) return TOLD_USUAL;
  const colour = fn?.colour;
  if (colour === undefined) return undefined;
  let usual = usuals.get(colour);
  if (!usual)
    usuals.set(colour, (usual = { states: { on: { colour } }, high: { colour, brightness: 1 } }));
  return usual;
}

/** Looks that were worked out, by what they say: what says the same looks the same, under any plan. */
export class LookCache {
  private readonly rules = new Map<string, OutRule>();
  private readonly numbers = new WeakMap<object, number>();
  private readonly known = new Map<string, number>();

  /** The rule of a key; made where there is none yet. */
  rule(key: string, make: () => OutRule): OutRule {
    let rule = this.rules.get(key);
    if (rule) return rule;
    // What is not shown any more is worked out again when it is needed.
    if (this.rules.size >= MOST_LOOKS) this.rules.clear();
    this.rules.set(key, (rule = make()));
    return rule;
  }

  /** A number for what a setting says, the same for what says the same. */
  numberOf(thing: object): number {
    const quick = this.numbers.get(thing);
    if (quick !== undefined) return quick;
    const says = JSON.stringify(thing);
    const number = this.known.get(says) ?? this.known.size + 1;
    this.known.set(says, number);
    this.numbers.set(thing, number);
    return number;
  }
}

/** Works out what comes back where, when it is first needed. */
export class LookBook {
  constructor(
    private readonly plan: PlainPlan,
    private readonly cache: LookCache = new LookCache(),
  ) {}

  /** What each level says for a binding; for what shows nothing bound, `binding` is below 0. */
  levelsOf(out: OutPlan, binding: number, topLayer: number): ReturnLevels {
    const { returns, layers, bindings, links } = this.plan;
    const run = binding < 0 ? null : bindings[binding];
    const layer = run ? run.layer : topLayer;
    return {
      usual: usualOf(out) ?? run?.usual,
      surface: links[out.link].surface?.returns,
      profile: returns,
      layer: layer < 0 ? undefined : layers[layer].returns,
      binding: run?.returns ?? undefined,
    };
  }

  /** What comes back to an output that shows a binding. */
  ruleOf(out: number, binding: number, topLayer: number): OutRule {
    const plan = this.plan.outs[out];
    const levels = this.levelsOf(plan, binding, topLayer);
    const surface = this.plan.links[plan.link].surface;
    const pattern = surface
      ? (plan.control.takes[plan.part] ?? takesOf(surface, plan.control, 1)[plan.part])
      : undefined;
    const target =
      plan.shows === Shows.Light && surface && pattern
        ? lightTarget(surface, plan.control, pattern)
        : null;
    const key = [
      target ? this.cache.numberOf(target) : plan.part,
      ...Object.values(levels).map((level) => (level ? this.cache.numberOf(level) : 0)),
    ].join(' ');
    return this.cache.rule(key, (): OutRule => {
      const field = <F extends Parameters<typeof heldField>[0]>(name: F) =>
        heldField(name, levels).value;
      const isText = plan.part === 'upper' || plan.part === 'lower';
      return {
        feedback: field('feedback'),
        motor: field('motor'),
        invert: field('invert'),
        ring: field('ring'),
        light: target ? new LightRule(levels, target) : null,
        text: isText ? readTextRule(field(plan.part as 'upper' | 'lower')) : NO_TEXT,
        peak: field('peak') * 1_000,
      };
    });
  }
}

/** What a display in no strip shows where nobody says otherwise: the layer, and what was moved last; a counter the time. */
const STRIPLESS: ReturnSettings = { upper: '{layer}', lower: '{control} {value}' };
const COUNTER: ReturnSettings = { upper: '{time}', lower: '{tempo}' };

function usualOf({ isStripless, control, part }: OutPlan): ReturnSettings | undefined {
  if (control.takes[part]?.type === 'digits') return COUNTER;
  return isStripless ? STRIPLESS : undefined;
}

const NO_TEXT: readonly RulePiece[] = [];
