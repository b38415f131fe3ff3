import { hostSpeaksOsc, takesKeys, type HostModel } from '@rondo/core/host';
import type { Profile } from '@rondo/core/profile';
import { hostLinkKey } from '@rondo/core/round';
import { speaksOsc, type Surface } from '@rondo/core/surface';

/** A surface of a profile, or a unit of one of its hosts: what has a cable of its own. */
export interface ProfileLink {
  readonly link: string;
  readonly kind: 'surface' | 'host';
  readonly label: string;
  /** It speaks OSC in place of MIDI. */
  readonly isOsc: boolean;
  /** Nothing ever comes from it, or nothing can be sent to it: no port is asked for on that side. */
  readonly silent?: boolean | undefined;
  readonly deaf?: boolean | undefined;
  /** It takes nothing but key strokes. */
  readonly isKeys?: boolean;
  /** What a host expects before it, where it expects a surface. */
  readonly expects?: string | undefined;
  /** Unit, from 0, of a host that speaks the Mackie-style protocol. */
  readonly desk?: number | undefined;
}

const isOscSurface = (surface: Surface | undefined): boolean =>
  surface !== undefined && speaksOsc(surface);

/**
 * The links of a profile, surfaces first.
 * @param modelOf the model of a host by its id in the profile
 * @param surfaceOf a surface by its model
 */
export function linksOf(
  profile: Profile,
  modelOf: (host: string) => HostModel | undefined,
  surfaceOf: (surface: string) => Surface | undefined,
): ProfileLink[] {
  return [
    ...profile.surfaceOrder.map((id) => {
      const surface = surfaceOf(profile.surfaces[id].model);
      return {
        link: `surface:${id}`,
        kind: 'surface' as const,
        label: profile.surfaces[id].label,
        isOsc: isOscSurface(surface),
        silent: surface?.device.sends === false,
        deaf: surface?.device.takes === false,
      };
    }),
    ...profile.hostOrder.flatMap((id) => {
      const { label } = profile.hosts[id];
      const model = modelOf(id);
      const units = model?.units?.length ?? 1;
      return Array.from({ length: units }, (_, unit) => ({
        link: hostLinkKey(id, unit),
        kind: 'host' as const,
        label: units > 1 ? `${label}, unit ${unit + 1}` : label,
        isOsc: model !== undefined && hostSpeaksOsc(model),
        isKeys: model !== undefined && takesKeys(model),
        expects: model?.desk
          ? 'a Mackie-style desk'
          : surfaceOf(model?.expects?.[unit] ?? '')?.name,
        desk: model?.desk ? unit : undefined,
      }));
    }),
  ];
}
