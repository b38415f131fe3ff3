import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';

/** Eight motor faders of a given resolution, without touch sense. */
export const motors = (bits: number): Surface => {
  const faders = STOCK_SURFACES.get('faders-8')!;
  return {
    ...faders,
    id: 'motors-8',
    name: '8 motors',
    controls: faders.controls.map((control, i) => {
      const bend = { type: 'pitchBend' as const, channel: i + 1, bits };
      return { ...control, sends: { value: bend }, takes: { motor: bend } };
    }),
  };
};

export const LEVELS_7 = Array.from({ length: 8 }, (_, i) => `Level ${i + 1},CC ${102 + i}`).join(
  '\n',
);
export const LEVELS_14 = Array.from(
  { length: 8 },
  (_, i) => `Level ${i + 1},CC ${16 + i}+${48 + i}`,
).join('\n');
