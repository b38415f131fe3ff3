import { RONDO_COMMANDS } from '@rondo/core/profile';
import type { RulePiece } from '@rondo/core/surface';
import type { RouteTraffic } from './forward/pass-on.js';
import type { MotorTest } from './return/motors.js';
import type { Round } from './round.js';
import { Playing } from './playing.js';

/** Layers and flags as they were when Rondo was closed. */
export interface SessionState {
  readonly layers: readonly string[];
  readonly flags: Readonly<Record<string, boolean>>;
}

/**
 * The round: what comes from surfaces goes, shaped, to hosts; what hosts tell comes back as motor, light, ring, text
 * and meter. Here it is asked, and told what to do; how time goes on and plans are swapped is {@link Playing}.
 */
export class Engine extends Playing {
  /** What hosts are believed to have, by slot; and what Rondo's own layers and flags are. */
  get beliefs(): Round['beliefs'] {
    return this.round.beliefs;
  }

  /** Index of a link by its key, −1 where the plan has none such. */
  linkOf(key: string): number {
    return this.plan.links.findIndex((link) => link.key === key);
  }

  /** Onboard page that each link is on, from 0. */
  get pages(): readonly number[] {
    return this.round.pages;
  }

  /** Last whole number sent to an output; below 0 where none was. */
  get shown(): Int32Array {
    return this.round.state.shown;
  }

  /** The slot each output shows now; −1 where it shows none. */
  get showing(): Int32Array {
    return this.round.targets.showing;
  }

  /** Where the hand last put an absolute control, 0…1; −1 where a motor has moved it since. By part. */
  get hand(): Float64Array {
    return this.round.state.hand;
  }

  /** Touched or pressed now. By part. */
  get down(): Uint8Array {
    return this.round.state.down;
  }

  /** Chains of causes that were cut, and the binding that would have come round last; below 0 for none. */
  get causes(): { readonly cut: number; readonly lastCut: number } {
    return this.round.causes;
  }

  /** Does what a control has asked of Rondo itself, once what it came with is done. */
  protected override obey(): void {
    const { asked } = this;
    if (asked.length === 0) return;
    const t = this.clock[0];
    for (let next = asked.shift(); next !== undefined; next = asked.shift()) {
      const command = RONDO_COMMANDS[next] as (typeof RONDO_COMMANDS)[number] | undefined;
      if (command === undefined) this.setUps.goTo(this.plan, next - RONDO_COMMANDS.length);
      else if (command === 'repaint') this.repaint(t);
      else if (command === 'panic') this.panic(t);
      else if (command === 'holdOff') this.holdOff = !this.holdOff;
      else
        this.plan.links.forEach(({ kind }, link) => {
          if (kind === 'host') this.askAgain(link, t);
        });
    }
  }

  /** Layers and flags as they are now, to be put back by {@link restore}. */
  session(): SessionState {
    const { plan, layers, beliefs } = this.round;
    return {
      layers: plan.layers.flatMap(({ id }, i) => (layers.latched[i] === 1 ? [id] : [])),
      flags: Object.fromEntries(plan.flags.map(({ id, slot }) => [id, beliefs.value[slot] >= 0.5])),
    };
  }

  /** Puts layers and flags back as they were in an earlier session, without doing what entering them does. */
  restore({ layers, flags }: SessionState, t: number): void {
    this.command(t);
    const { round } = this;
    this.sessionVersion++;
    round.plan.layers.forEach(({ id }, i) => {
      round.layers.latched[i] = layers.includes(id) ? 1 : 0;
    });
    round.layers.fitGroups();
    for (const { id, slot } of round.plan.flags)
      if (flags[id] !== undefined) {
        round.beliefs.set(slot, flags[id]);
        round.changed(slot);
      }
    round.layerChanges.show();
    round.resolveAnew();
    round.pump();
  }

  /** Opens or closes the input of a link. A closed host is unknown; a closed surface holds nothing. */
  setInputOpen(link: number, open: boolean, t: number): void {
    this.command(t);
    const { round } = this;
    const { inOpen, inputs } = round.state;
    if (inOpen[link] === (open ? 1 : 0)) return;
    inOpen[link] = open ? 1 : 0;
    inputs[link]?.reset();
    round.decoders[link].reset();
    this.watch.hearAgain(link);
    if (open) this.meet(link);
    else {
      this.greeting.end(round.plan.links[link]);
      round.forgetLink(link);
    }
    round.pump();
  }

  /**
   * Opens or closes the output of a link; what a surface shows is unknown then, and all of it is sent again.
   * @param unacknowledgedLimit bytes that may be under way before the other side has taken them
   */
  setOutputOpen(link: number, open: boolean, t: number, unacknowledgedLimit = Infinity): void {
    this.command(t);
    const { round } = this;
    const box = round.outboxes[link];
    box.unacknowledgedLimit = unacknowledgedLimit;
    if (box.open === open) return;
    box.clear();
    box.open = open;
    round.refresh.open(link, open);
    this.watch.hearAgain(link);
    if (open) this.meet(link);
    else this.greeting.end(round.plan.links[link]);
    if (open) round.rendering.repaint(link);
    round.pump();
  }

  /** Both ways of a link are open: a host is asked what it knows, a desk who it is. */
  private meet(link: number): void {
    if (!this.isInputOpen(link) || !this.isOutputOpen(link)) return;
    const plan = this.plan.links[link];
    if (plan.kind === 'host') {
      this.round.askHost(link);
      this.greeting.listen(plan);
    } else this.greeting.begin(link, plan);
  }

  /** Lets an output leave out repeated status bytes: only where nothing but a wire is behind it. */
  setRunningStatus(link: number, on: boolean): void {
    this.round.outboxes[link].runningStatus = on;
  }

  isInputOpen(link: number): boolean {
    return this.round.state.inOpen[link] === 1;
  }

  isOutputOpen(link: number): boolean {
    return this.round.outboxes[link].open;
  }

  /** The other side of an output has taken some bytes. */
  acknowledge(link: number, bytes: number, t: number): void {
    this.command(t);
    this.round.outboxes[link].acknowledge(bytes);
    this.round.pump();
  }

  /** Sends everything that surfaces show once more, and takes hold of the motors again after a panic. */
  repaint(t: number): void {
    this.command(t);
    this.motorsFree = false;
    this.plan.links.forEach((link, i) => {
      if (link.kind === 'surface') this.round.rendering.repaint(i);
      else this.round.askHost(i);
    });
    this.round.pump();
  }

  /** What things are called has changed: displays that say it otherwise now are written. */
  renameTexts(t: number): void {
    this.command(t);
    this.round.targets.resolveAll();
    this.round.pump();
  }

  /** Plays at a value of a host's function, as lights, motors and texts show it; null ends that. Nothing is told to the host. */
  playAt(slot: number, value: number | null, t: number): void {
    this.command(t);
    if (slot >= 0 && slot < this.plan.slots.length) {
      this.round.sight.suppose(slot, value);
      this.round.subscriptions.changed(slot);
    }
    this.round.pump();
  }

  /** Makes an output show a number, as to find a colour by looking; below 0 it shows its own again. */
  tryOutput(out: number, wire: number, t: number): void {
    this.command(t);
    if (out >= 0 && out < this.plan.outs.length) this.round.rendering.try(out, wire);
    this.round.pump();
  }

  /** Tries the motors of a surface; null ends that. */
  tryMotors(link: number, test: MotorTest | null, t: number): void {
    this.command(t);
    this.round.motors.try(link, test);
    this.round.pump();
  }

  /** Moves the bank window from the page. */
  moveBank(by: number, t: number): void {
    this.command(t);
    if (this.bank.move(by)) this.round.resolveAnew();
    this.round.pump();
  }

  /** Puts the bank window back where it was in an earlier session. */
  goToBank(start: number, t: number): void {
    this.command(t);
    this.bank.goTo(start);
    this.round.resolveAnew();
    this.round.pump();
  }

  /** Turns a layer on or off from the page; the others of its group follow. */
  setLayer(id: string, on: boolean, t: number): void {
    this.command(t);
    const layer = this.plan.layers.findIndex((plan) => plan.id === id);
    if (layer < 0) return;
    if (on) this.round.layers.on(layer);
    else this.round.layers.off(layer);
    this.round.layerChanges.apply();
    this.round.pump();
  }

  /** Sets a flag from the page. */
  setFlag(id: string, on: boolean, t: number): void {
    this.command(t);
    const flag = this.plan.flags.find((plan) => plan.id === id);
    if (flag) this.round.layerChanges.setOwn(flag.slot, on);
    this.round.pump();
  }

  /** Releases everything that is held and lets the motors go until the next repaint. */
  panic(t: number): void {
    this.command(t);
    const { round } = this;
    this.motorsFree = true;
    round.plan.parts.forEach((_, part) => round.hands.letGo(part));
    round.plan.routes.forEach((_, route) => round.passOn.endRoute(route));
    round.holds.letGoOfAll();
    round.layerChanges.apply();
    round.pump();
  }

  /** Asks a host to send everything again; false where it has no way. A program that expects a desk is told that one is there. */
  askAgain(link: number, t: number): boolean {
    this.command(t);
    const { ask, kind } = this.plan.links[link];
    if (ask !== null) this.round.askHost(link);
    else if (kind === 'host') this.greeting.introduce(link, this.plan.links[link]);
    this.round.pump();
    return ask !== null;
  }

  /**
   * Says which input a link hears, where several hear the same: what is one surface's own is nothing to the others there.
   * @param input any number, the same for those that share it; −1 for a link that has its own
   */
  setHeardOn(link: number, input: number): void {
    this.round.state.heardOn[link] = input;
  }

  /** Finds out whether a cable hears itself: whether a question comes back as it went. */
  checkCable(link: number, t: number): void {
    this.command(t);
    this.round.state.deaf[link] = 0;
    this.notices.forget(this.plan.links[link].key, ['hearsItself', 'cable']);
    // What hears itself is a matter of MIDI cables; the question is one of MIDI too.
    if (!this.plan.links[link].isOsc)
      this.cables.ask(link, this.plan.links, this.isInputOpen(link), this.isOutputOpen(link));
    this.round.pump();
  }

  /** Finds out whether a program follows a device by itself: for a while moves are kept from it, and it should stand still. */
  checkTwice(link: number, t: number): void {
    this.command(t);
    this.cables.watch(link, this.plan.links);
  }

  /** The text that a rule gives now of what a part is bound to; part −1 for none. */
  textBy(rule: readonly RulePiece[], part: number): string {
    return this.round.fields.textBy(rule, part);
  }

  /**
   * What has gone along each route so far, and how even its clock is: jitter as it came and as it could leave, µs.
   * @param t µs
   */
  routes(t: number): RouteTraffic[] {
    return this.round.passOn.traffic(t);
  }

  /** The bytes that would release what is held on a host link, should Rondo vanish. */
  releaseBytes(link: number): Uint8Array {
    return this.round.holds.releaseBytes(link);
  }
}
