import { blankHost, readChart, type MessageHost } from '@rondo/core/host';
import type { Action } from '@rondo/core/profile';

// Written as makers publish their controller charts; names, and the synth, are invented.
export const CHART = `Parameter,CC#,Range,Feedback
Cutoff,74,0-127,same
Resonance,71,0-127,same
Attack,CC 73,0-127,
"Decay, first",75,0–100,same
Octave,CC 20,3-7,same
Fine tune,CC 21+53,,same
Drone,NRPN 1024 14-bit,,same
Hold,64,0-127,none
,12,,
Bad number,CC 300,,
No message,,,
Too wide,CC 3,0-900,
`;

export const chartHost = (csv: string, more: Partial<MessageHost> = {}): MessageHost => ({
  ...blankHost('lantern', 'Lantern'),
  rows: [...readChart(csv).rows],
  ...more,
});

export const follow = (fn: string, host = 'lantern'): Action => ({
  do: 'function',
  host,
  function: fn,
  scope: { kind: 'host' },
  behaviour: 'follow',
});
export const value = (control: string, n = 1) =>
  ({ surface: `surface-${n}`, control, part: 'value' }) as const;
