import { readChart } from './chart.js';
import { blankHost, type MessageHost } from './message-host.js';

/** The chart of Lantern, an invented synth for drones: written as makers publish theirs. */
const CHART = `Name,Message,Range,Feedback
Volume,CC 7+39,,same
Cutoff,CC 74,0-127,same
Resonance,CC 71,0-127,same
Attack,CC 73,0-127,same
Release,CC 72,0-127,same
Detune,CC 21+53,,same
Octave,CC 20,0-6,same
Hold,CC 64,0-127,same
`;

/** Lantern as a host: eight parameters by their controllers; it tells what is changed on its own panel. */
export function lantern(): MessageHost {
  return {
    ...blankHost('lantern', 'Lantern'),
    about: 'An invented drone synth, by its published chart of controllers.',
    rows: readChart(CHART).rows.map((row) =>
      row.name === 'Hold' ? { ...row, kind: 'toggle' } : row,
    ),
  };
}
