import * as z from 'zod';
import { OUTCOMES, isOfAProfile, orderSchema, standingSchema } from './orders';
import type { Order, Outcome, Standing } from './orders';

const NAME = 'rondo.orders';
/** How long an answer is waited for, ms. */
const PATIENCE_MS = 3_000;

const saidSchema = z.discriminatedUnion('said', [
  z.object({
    said: z.literal('order'),
    from: z.uuid(),
    n: z.int().positive(),
    /** The profile that is open where it was said. */
    profile: z.string().nullable(),
    order: orderSchema,
  }),
  z.object({ said: z.literal('answer'), to: z.uuid(), n: z.int(), outcome: z.enum(OUTCOMES) }),
  z.object({ said: z.literal('standing'), standing: standingSchema }),
  /** A window wants to know how the engine stands. */
  z.object({ said: z.literal('ask') }),
  /** Another engine has begun: whoever keeps touches away says so again. */
  z.object({ said: z.literal('begun') }),
]);
type Said = z.infer<typeof saidSchema>;

/** A window, as orders reach it or come from it. */
export interface OrderOwner {
  /** Whether this window plays. */
  plays(): boolean;
  /** Whether any window plays; where none does there is nobody who could answer. */
  isPlayedAnywhere(): Promise<boolean>;
  /** The profile that is open here. */
  profile(): string | null;
  /** Does what is ordered, by a window of that name; only asked where this window plays. */
  obey(order: Order, from: string): Outcome;
  /** How the engine stands that plays here; only asked where this window plays. */
  standing(): Standing;
  /** How the engine stands that plays in another window. */
  follow(standing: Standing): void;
  /** A window that has kept touches away is gone. */
  gone(window: string): void;
  /** An order of this window was not done. */
  refused(order: Order, outcome: Outcome): void;
}

/** Orders go to the window that plays, are done there and answered; and how it stands then is told to all. */
export class OrderChannel {
  /** This window's name among them. */
  readonly me = crypto.randomUUID();
  private readonly channel = new BroadcastChannel(NAME);
  private readonly asked = new Map<number, Order>();
  private count = 0;
  /** What this window keeps away touches by, said again to an engine that begins. */
  private readonly kept = new Map<Order['kind'], Order>();
  private readonly watched = new Set<string>();
  private told = '';

  constructor(private readonly owner: OrderOwner) {
    this.channel.onmessage = ({ data }: MessageEvent<unknown>) => {
      // Another window may be of another version: what it says and this one does not know is left alone.
      const said = saidSchema.safeParse(data);
      if (said.success) this.hear(said.data);
    };
    // As long as this window lives: the one that plays learns from it that it is gone.
    const { locks } = navigator as { readonly locks?: LockManager };
    void locks?.request(lockOf(this.me), () => new Promise(() => undefined));
  }

  private say(said: Said): void {
    this.channel.postMessage(said);
  }

  /** Asks how the engine stands, where another window plays. */
  ask(): void {
    this.say({ said: 'ask' });
  }

  /** Has an order done: here where this window plays, else by the one that does. */
  give(order: Order): void {
    if (order.kind === 'choosing' || order.kind === 'teaching')
      if (order.on) this.kept.set(order.kind, order);
      else this.kept.delete(order.kind);
    const profile = this.owner.profile();
    if (this.owner.plays()) {
      const outcome = this.owner.obey(order, this.me);
      if (outcome !== 'done') this.owner.refused(order, outcome);
      this.tell();
      return;
    }
    const n = ++this.count;
    this.asked.set(n, order);
    this.say({ said: 'order', from: this.me, n, profile, order });
    setTimeout(() => void this.giveUp(n), PATIENCE_MS);
  }

  /** No answer has come. Where nothing plays there was nothing to be done. */
  private async giveUp(n: number): Promise<void> {
    if (!this.asked.has(n)) return;
    this.end(n, (await this.owner.isPlayedAnywhere()) ? 'noAnswer' : 'done');
  }

  private end(n: number, outcome: Outcome): void {
    const order = this.asked.get(n);
    if (!order) return;
    this.asked.delete(n);
    if (outcome !== 'done') this.owner.refused(order, outcome);
  }

  /** Another engine plays here from now on. */
  begin(): void {
    this.say({ said: 'begun' });
    for (const order of this.kept.values()) this.owner.obey(order, this.me);
    this.told = '';
    this.tell();
  }

  /** Tells all windows how the engine stands, where that has changed. */
  tell(isAsked = false): void {
    if (!this.owner.plays()) return;
    const standing = this.owner.standing();
    const text = JSON.stringify(standing);
    if (text === this.told && !isAsked) return;
    this.told = text;
    this.say({ said: 'standing', standing });
  }

  private hear(said: Said): void {
    if (said.said === 'answer') {
      if (said.to === this.me) this.end(said.n, said.outcome);
    } else if (said.said === 'begun') {
      for (const order of this.kept.values()) this.give(order);
    } else if (!this.owner.plays()) {
      if (said.said === 'standing') this.owner.follow(said.standing);
    } else if (said.said === 'ask') this.tell(true);
    else if (said.said === 'order') {
      const { from, n, profile, order } = said;
      const isOther = isOfAProfile(order) && profile !== this.owner.profile();
      const outcome = isOther ? 'otherProfile' : this.owner.obey(order, from);
      if (order.kind === 'choosing' || order.kind === 'teaching') this.watch(from);
      this.say({ said: 'answer', to: from, n, outcome });
      this.tell();
    }
  }

  /** Learns when another window is gone, by the lock that it holds as long as it lives. */
  private watch(window: string): void {
    const { locks } = navigator as { readonly locks?: LockManager };
    if (!locks || this.watched.has(window)) return;
    this.watched.add(window);
    void locks.request(lockOf(window), () => {
      this.watched.delete(window);
      this.owner.gone(window);
      this.tell();
    });
  }
}

const lockOf = (window: string): string => `rondo-window ${window}`;
