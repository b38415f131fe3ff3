import { effect, signal, type Signal } from '@angular/core';
import type { Midi } from './midi';
import type { OpenSession } from './open-session';
import { deviceHere, netOfDevice, rememberDevice, type PortChoice } from './port-choice';
import { chosenOf, findPort } from './port-names';
import type { ProfileLink } from './profile-links';
import type { ToWorker } from './protocol';
import { sameIdentity, type Recogniser } from './recogniser';

type Choices = Readonly<Record<string, PortChoice>>;
/** Of the real ports, what is asked here. */
export type PortsHere = Pick<
  Midi,
  'changed' | 'hasOutput' | 'ignore' | 'inputs' | 'listen' | 'outputs'
>;

/** Whose links they are, and to whom it is told on which ports they are. */
export interface LinkOwner {
  post(message: ToWorker): void;
  /** What of the profile has a cable, also before it is compiled. */
  links(): readonly ProfileLink[];
  /** The surface behind a link, by its model; null for a host. */
  modelOf(link: string): string | null;
}

/** On which ports each link of the profile is: what was chosen, where a device is known to be, and what is open. */
export class LinkPorts {
  /** What was chosen for links, by key. */
  readonly choices: Signal<Choices>;
  /** All that comes in goes to watchers only, as while a surface is taught. */
  private diverted = false;
  /** Screens that show every input. */
  private readonly screensWatch = signal(0);

  /** To be made where signals may be watched. */
  constructor(
    private readonly midi: PortsHere,
    private readonly recogniser: Pick<Recogniser, 'ask'>,
    private readonly session: OpenSession,
    private readonly owner: LinkOwner,
  ) {
    this.choices = session.ports;
    midi.changed = () => {
      this.apply();
      void this.findAgain();
    };
    effect(() => {
      if (this.screensWatch() > 0) for (const { id } of midi.inputs()) midi.listen(id);
    });
  }

  choiceOf(link: string): PortChoice {
    return this.session.choiceOf(link);
  }

  /** Closes what the profile that is left had open. */
  leave(): void {
    for (const { input } of Object.values(this.choices())) if (input) this.midi.ignore(input.id);
  }

  /** Chooses ports for a link; null for both is a real link with nothing plugged in. */
  choose(link: string, { identity, ...wanted }: PortChoice): void {
    const before = this.choiceOf(link);
    if (before.input && before.input.id !== wanted.input?.id) this.midi.ignore(before.input.id);
    const isSame = before.output?.id === wanted.output?.id;
    const choice: PortChoice = {
      ...wanted,
      input: wanted.input && chosenOf(wanted.input, this.midi.inputs()),
      output: wanted.output && chosenOf(wanted.output, this.midi.outputs()),
      // Behind another port is another device.
      ...(identity && isSame ? { identity } : {}),
      said: true,
    };
    this.keep(link, choice);
    this.apply();
    if (link.startsWith('surface:') && choice.real && choice.output) void this.remember(link);
  }

  /** Keeps a choice for this profile, and where the device is for every one. */
  private keep(link: string, choice: PortChoice): void {
    const model = this.owner.modelOf(link);
    if (model !== null && choice.real) rememberDevice(model, choice);
    this.session.keepChoice(link, choice);
  }

  /** Asks the device behind a chosen output who it is, to know it again. */
  private async remember(link: string): Promise<void> {
    const { output } = this.choiceOf(link);
    if (!output || !this.midi.hasOutput(output.id)) return;
    const answer = await this.recogniser.ask(output.id, (id) => this.isKept(id));
    if (!answer || this.choiceOf(link).output?.id !== output.id) return;
    const { manufacturer, family, member } = answer.identity;
    this.keep(link, { ...this.choiceOf(link), identity: { manufacturer, family, member } });
  }

  /** Looks for devices whose ports are gone among those that are there now, by who they say they are. */
  async findAgain(): Promise<void> {
    for (const [link, choice] of Object.entries(this.choices())) {
      const { output, identity } = choice;
      if (!choice.real || !identity || !output || this.midi.hasOutput(output.id)) continue;
      const taken = new Set(Object.values(this.choices()).map((other) => other.output?.id));
      for (const candidate of this.midi.outputs()) {
        if (taken.has(candidate.id)) continue;
        const answer = await this.recogniser.ask(candidate.id, (id) => this.isKept(id));
        if (!answer || !sameIdentity(answer.identity, identity)) continue;
        const input = this.midi.inputs().find(({ id }) => id === answer.inputId) ?? null;
        this.keep(link, { ...choice, input: input ?? choice.input, output: candidate });
        this.apply();
        break;
      }
    }
  }

  /** Whether an input is to stay open: chosen for a link, or watched by a screen. */
  private isKept(inputId: string): boolean {
    const isChosen = Object.values(this.choices()).some(
      ({ real, input }) => real && input?.id === inputId,
    );
    return isChosen || this.screensWatch() > 0;
  }

  /** Keeps all inputs open while a screen shows them; call the returned function at its end. */
  watchAll(): () => void {
    this.screensWatch.update((count) => count + 1);
    return () => {
      this.screensWatch.update((count) => count - 1);
      // Others may need a port that nobody here listens to any more.
      for (const { id } of this.midi.inputs()) if (!this.isKept(id)) this.midi.ignore(id);
    };
  }

  /** Keeps everything that comes in away from the engine: nothing that is touched acts. */
  divert(on: boolean): void {
    this.diverted = on;
    this.apply();
  }

  /** What was chosen for a link; where nothing was, where its device is known to be, if no other link is there. */
  private choiceNow(link: string, all: Choices, isOsc: boolean): PortChoice {
    const chosen = this.choiceOf(link);
    const model = this.owner.modelOf(link);
    if (chosen.said || chosen.real || model === null) return chosen;
    const known = isOsc
      ? netOfDevice(model)
      : deviceHere(model, this.midi.inputs(), this.midi.outputs());
    if (!known) return chosen;
    const isThere = ({ real, input, net }: PortChoice) =>
      real &&
      (isOsc ? net?.listen === known.net?.listen : input !== null && input.id === known.input?.id);
    const isTaken = Object.entries(all).some(([other, one]) => other !== link && isThere(one));
    return isTaken ? chosen : known;
  }

  /** Opens the chosen ports that are there, by id, else by name, and tells the engine. */
  apply(): void {
    const found = { ...this.choices() };
    // All links, so that one without a choice goes back to its simulation when another profile is opened.
    const links = this.owner.links();
    const osc = new Set(links.filter(({ isOsc }) => isOsc).map(({ link }) => link));
    const keys = links.map(({ link }) => link);
    for (const link of hostsFirst(new Set([...keys, ...Object.keys(found)]))) {
      const choice = this.choiceNow(link, found, osc.has(link));
      found[link] = osc.has(link) ? this.applyNet(link, choice) : this.applyMidi(link, choice);
    }
    this.session.ports.set(found);
  }

  private applyNet(link: string, choice: PortChoice): PortChoice {
    const { real, net } = choice;
    // What is diverted is closed to the engine, which lets go of what was held there.
    const now = real && net ? { ...net, listen: this.diverted ? null : net.listen } : null;
    this.owner.post({ kind: 'net', link, choice: now });
    return choice;
  }

  private applyMidi(link: string, choice: PortChoice): PortChoice {
    const { real } = choice;
    const input = real ? findPort(choice.input, this.midi.inputs()) : choice.input;
    const output = real ? findPort(choice.output, this.midi.outputs()) : choice.output;
    this.owner.post({
      kind: 'ports',
      link,
      real,
      // What is diverted is closed to the engine, which lets go of what was held there.
      input: real && input && this.midi.listen(input.id) && !this.diverted ? input.id : null,
      output: real && output && this.midi.hasOutput(output.id) ? output.id : null,
    });
    return { ...choice, input, output };
  }
}

/** A host's output is closed before what is held is let go of: then that is owed to it, and sent when it comes back. */
const hostsFirst = (links: Iterable<string>): string[] =>
  [...links].sort((a, b) => Number(b.startsWith('host:')) - Number(a.startsWith('host:')));
