import { readChart } from './chart.js';
import { blankHost, type MessageHost } from './message-host.js';

/** What Placard is driven by: keys, and nothing else. */
const CHART = `Name,Message,Feedback
Next sheet,keys ArrowRight,none
Sheet before,keys ArrowLeft,none
First sheet,keys Home,none
Show the clock,keys Control+K,none
Blank,keys B,none
Torch,keys hold T,none
Scroll on,keys repeat ArrowDown,none
Start anew,"keys Control+R, Enter",none
`;

/** Placard, an invented program that shows sheets for a stage and takes only keys. */
export function placard(): MessageHost {
  return {
    ...blankHost('placard', 'Placard'),
    about: 'An invented program that shows sheets on a stage; it takes keys and nothing else.',
    tells: 'nothing',
    rows: readChart(CHART).rows.map((row) =>
      ['blank', 'showTheClock'].includes(row.id) ? { ...row, kind: 'toggle', flips: true } : row,
    ),
  };
}
