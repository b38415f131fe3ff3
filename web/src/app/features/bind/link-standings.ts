import { Injectable, computed, inject } from '@angular/core';
import { EngineService } from '../../engine/engine.service';
import {
  oscStandingOf,
  standingOf,
  type PortStanding,
  type PortsNow,
} from '../../engine/port-standing';
import { HostsShown } from './pictures/hosts-shown';
import { SurfacesShown } from './desk/surfaces-shown';

/** How the links of the profile stand with their ports. */
@Injectable()
export class LinkStandings {
  private readonly engine = inject(EngineService);
  private readonly surfaces = inject(SurfacesShown);
  private readonly hosts = inject(HostsShown);

  private readonly portsNow = computed<PortsNow>(() => {
    const { midi } = this.engine;
    return {
      state: midi.state(),
      inputs: midi.inputs(),
      outputs: midi.outputs(),
      trouble: midi.trouble(),
    };
  });
  /** What keeps links from working, each once with all whom it concerns. */
  readonly faults = computed(() => {
    // Ports are the other window's where that plays.
    if (this.engine.workers.home() === 'elsewhere') return [];
    const faults = new Map<string, { whom: string[]; mend: PortStanding['mend'] }>();
    const links = [
      ...this.surfaces.all().map(({ id, label }) => ({ link: `surface:${id}`, label })),
      ...this.hosts.all().map(({ id, label }) => ({ link: `host:${id}`, label })),
    ];
    for (const { link, label } of links) {
      const { fault, mend } = this.of(link);
      if (fault === '') continue;
      const known = faults.get(fault) ?? { whom: [], mend };
      known.whom.push(label);
      faults.set(fault, known);
    }
    return [...faults].map(([fault, { whom, mend }]) => ({ fault, whom: whom.join(', '), mend }));
  });

  isReal(link: string): boolean {
    return this.engine.ports.choices()[link]?.real ?? false;
  }

  /** How a link stands with its ports. */
  of(link: string): PortStanding {
    const choice = this.engine.ports.choiceOf(link);
    return choice.net
      ? oscStandingOf(choice, this.engine.net.standing()[link])
      : standingOf(choice, this.portsNow());
  }
}
