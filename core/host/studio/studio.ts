import { stockModel, type HostModel } from '../catalogue.js';
import { inTradeColour } from '../trade-colours.js';
import { clipFunctions } from './clip-functions.js';
import { focusFunctions } from './focus-functions.js';
import { INSERTS } from './inserts.js';
import { PRIVATE } from './messages.js';
import { mixerFunctions } from './mixer-functions.js';
import { otherFunctions } from './other-functions.js';
import { STRIPS } from './session.js';
import { songFunctions } from './song-functions.js';
import { stripFunctions } from './strip-functions.js';
import { transportFunctions } from './transport-functions.js';

/**
 * The Studio: a simulated DAW with the session of *Nine Ferries*, spoken to in plain controllers.
 * On/off functions use 102–119, undefined in MIDI 1.0 and so safest for private links.
 */
export const STUDIO: HostModel = stockModel({
  arms: 'arm',
  id: 'studio',
  name: 'Studio',
  about: 'A simulated DAW with the session Nine Ferries: 16 tracks, 3 buses and a master.',
  strips: STRIPS,
  stripWord: 'track',
  selectedWord: 'the selected track',
  ask: [0xf0, PRIVATE, 0x3f, 0xf7],
  bytesPerSecond: 60_000,
  focus: {
    function: 'focusInsert',
    items: INSERTS.map(({ name, parameters }, insert) => ({
      label: name,
      parameters: parameters.map((_, index) => `insert${insert + 1}Parameter${index + 1}`),
    })),
  },
  // The order is the chart: see Numbers. What is new goes to the end.
  functions: [
    ...mixerFunctions(),
    ...transportFunctions(),
    ...stripFunctions(),
    ...focusFunctions(),
    ...songFunctions(),
    ...clipFunctions(),
    ...otherFunctions(),
  ].map(inTradeColour),
});
