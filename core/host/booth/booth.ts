import { stockModel, type HostModel } from '../catalogue.js';
import { inTradeColour } from '../trade-colours.js';
import { deckFunctions } from './deck-functions.js';
import { effectFunctions } from './effect-functions.js';
import { laterFunctions } from './later-functions.js';
import { mixerFunctions } from './mixer-functions.js';
import { programFunctions } from './program-functions.js';
import { DECKS } from './sizes.js';
import { upTo } from './sketches.js';
import { stemFunctions } from './stem-functions.js';

/** The Booth: a simulated DJ mixer program with four decks and invented records. */
export const BOOTH: HostModel = stockModel({
  id: 'booth',
  name: 'Booth',
  about: 'A simulated DJ mixer with four decks, stems, effects, samplers and invented records.',
  strips: upTo(DECKS, (n) => ({ name: `Deck ${n}`, group: 'deck' })),
  stripWord: 'deck',
  selectedWord: 'the deck in focus',
  ask: [0xf0, 0x7d, 0x3e, 0xf7],
  bytesPerSecond: 60_000,
  // Their order is the order of the chart.
  functions: [
    ...deckFunctions(),
    ...mixerFunctions(),
    ...stemFunctions(),
    ...effectFunctions(),
    ...programFunctions(),
    ...laterFunctions(),
  ].map(inTradeColour),
});
