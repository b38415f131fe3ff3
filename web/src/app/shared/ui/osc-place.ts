import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { NetChoice, NetRefusal } from '@rondo/core/wire';
import { EngineService } from '../../engine/engine.service';
import { SIMULATED } from '../../engine/port-choice';
import { NumberField, OneOf, TextField } from './form';

/** The port that is proposed first; the next link gets the next one. Common practice, no source. */
const FIRST_PORT = 8_000;
const REPLY_PORT = 9_000;
const MACHINE = /^[0-9a-zA-Z:.%_-]{1,253}$/;

/** Why something that came was left out. */
const REFUSED: Readonly<Record<Exclude<NetRefusal, 'stranger'>, string>> = {
  notInFront: 'was kept back, since another program is in front',
  notListed: 'is no stroke that the host lists',
  malformed: 'is not well formed',
  tooDeep: 'has bundles in bundles too deep',
  tooMany: 'is more than can wait at once',
  tooFarAhead: 'is meant for more than two seconds from now',
  tooFast: 'comes faster than 10 000 messages a second',
};

/** Where an OSC link listens and sends to, in place of its simulation, and how that stands. */
@Component({
  selector: 'rondo-osc-place',
  imports: [NumberField, OneOf, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-one-of
      [label]="name() + ' is'"
      [options]="WHERE"
      [value]="net() ? 'network' : 'simulated'"
      (chosen)="choose($event === 'network')"
    />
    @if (net(); as n) {
      <div class="line">
        <span>Rondo listens on UDP port</span>
        <rondo-number
          [label]="'UDP port that ' + name() + ' sends to'"
          [min]="1"
          [max]="65535"
          placeholder="none"
          [value]="n.listen"
          (changed)="set({ listen: $event })"
        />
      </div>
      <div class="line">
        <span>and sends to</span>
        <input
          type="text"
          spellcheck="false"
          placeholder="nobody"
          [attr.aria-label]="'Address of ' + name()"
          [rondoText]="n.to?.host ?? ''"
          (change)="setHost($event)"
        />
        <span>port</span>
        <rondo-number
          [label]="'UDP port of ' + name()"
          [min]="1"
          [max]="65535"
          [disabled]="n.to === null"
          [value]="n.to?.port ?? null"
          (changed)="setPort($event)"
        />
      </div>
      @if (refused(); as text) {
        <p class="said" role="status">
          “{{ text }}” is no address. Write one as 192.168.1.20, or the name of a machine.
        </p>
      }
      @for (friend of n.from; track friend) {
        <p class="said">
          {{ friend }} may send, too.
          <button type="button" (click)="setFriend(friend, false)">Shut it out</button>
        </p>
      }
      @if (standing(); as s) {
        @if (s.fault) {
          <p class="trouble" role="alert">{{ s.fault }}</p>
        } @else {
          <p class="said" role="status">{{ s.hears ? 'Open.' : 'Sends only.' }}</p>
        }
      }
      @for (one of news(); track one.why) {
        <p class="trouble" role="status">
          @if (one.why === 'stranger') {
            {{ one.from }} sends to this port and is not listed.
            <button type="button" (click)="setFriend(one.from, true)">Let it in</button>
          } @else {
            Something that {{ one.from }} sent {{ one.says }}. It was left out.
          }
        </p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
    }
    input {
      width: 132px;
      min-height: 28px;
      padding: 2px 8px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      color: inherit;
      font: inherit;
      font-size: 13px;
    }
    p {
      line-height: 1.4;
    }
    .said {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .trouble {
      border-left: 3px solid var(--stop);
      padding-left: 8px;
    }
    button {
      min-height: 26px;
      padding: 1px 9px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      font-size: 13px;
      cursor: pointer;
    }
  `,
})
export class OscPlace {
  readonly link = input.required<string>();
  readonly name = input.required<string>();
  private readonly engine = inject(EngineService);
  protected readonly WHERE = [
    { value: 'simulated', label: 'Simulated' },
    { value: 'network', label: 'By OSC' },
  ] as const;

  private readonly choice = computed(() => this.engine.ports.choices()[this.link()] ?? SIMULATED);
  protected readonly net = computed(() => {
    const { real, net } = this.choice();
    return real ? (net ?? null) : null;
  });
  /** What was typed and is no address. */
  protected readonly refused = signal('');
  protected readonly standing = computed(() => this.engine.net.standing()[this.link()]);
  protected readonly news = computed(() =>
    Object.values(this.engine.net.news()).flatMap((one) => {
      if (one?.link !== this.link()) return [];
      if (one.why !== 'stranger') return [{ ...one, says: REFUSED[one.why] }];
      return this.net()?.from.includes(one.from) ? [] : [{ ...one, says: '' }];
    }),
  );

  protected choose(network: boolean): void {
    if (!network)
      return this.engine.choosePorts(this.link(), { ...SIMULATED, net: this.choice().net });
    const taken = Object.values(this.engine.ports.choices()).map(({ net }) => net?.listen ?? 0);
    let listen = FIRST_PORT;
    while (taken.includes(listen)) listen++;
    const to = { host: '127.0.0.1', port: REPLY_PORT + listen - FIRST_PORT };
    this.take(this.choice().net ?? { listen, to, from: [] });
  }

  private take(net: NetChoice): void {
    this.engine.choosePorts(this.link(), { ...SIMULATED, real: true, net });
  }

  protected set(change: Partial<NetChoice>): void {
    const now = this.net();
    if (now) this.take({ ...now, ...change });
  }

  protected setHost(event: Event): void {
    const field = event.target as HTMLInputElement;
    const host = field.value.trim();
    const now = this.net();
    if (!now) return;
    this.refused.set('');
    if (host === '') return this.set({ to: null });
    if (MACHINE.test(host)) return this.set({ to: { host, port: now.to?.port ?? REPLY_PORT } });
    // No address: it stays as it was, and that is said.
    this.refused.set(host);
    field.value = now.to?.host ?? '';
  }

  protected setPort(port: number | null): void {
    const to = this.net()?.to;
    if (to && port !== null) this.set({ to: { ...to, port } });
  }

  protected setFriend(address: string, isFriend: boolean): void {
    const from = this.net()?.from ?? [];
    this.set({ from: isFriend ? [...from, address] : from.filter((one) => one !== address) });
  }
}
