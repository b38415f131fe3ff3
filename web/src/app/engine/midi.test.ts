import '@angular/compiler';
import { installWebMidi, type MidiPlan } from '../../../testing/web-midi';
import { Midi, MIDI_SENTENCE, withoutSysex } from './midi';

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [
    { id: 'i1', name: 'Harrow 8' },
    { id: 'i2', name: 'Cable A' },
  ],
  outputs: [{ id: 'o1', name: 'Harrow 8' }],
};

function midiWith(plan: Partial<MidiPlan>) {
  const navigator = {};
  Object.defineProperty(globalThis, 'navigator', { configurable: true, value: navigator });
  const control = installWebMidi({ navigator }, { ...PLAN, ...plan });
  return { midi: new Midi(), control };
}

test.each([
  ['granted', 'granted', [true]],
  ['plain only', 'granted without SysEx', [true, false]],
  ['refused', 'refused', [true, false]],
  ['no platform', 'no platform', [true]],
] as const)('%s: asks with SysEx first and says “%s”', async (answer, state, requests) => {
  const { midi, control } = midiWith({ answer });
  await midi.ask();
  expect(midi.state()).toBe(state);
  expect(control.requests.map(({ sysex }) => sysex)).toEqual(requests);
});

test('a browser without Web MIDI gets a sentence', async () => {
  Object.defineProperty(globalThis, 'navigator', { configurable: true, value: {} });
  const midi = new Midi();
  await midi.ask();
  expect(MIDI_SENTENCE[midi.state()]).toContain('This browser has no Web MIDI');
});

test('messages arrive once, also after a second request brought new port objects', async () => {
  const { midi, control } = midiWith({});
  const heard: number[][] = [];
  midi.onBytes((_, bytes) => heard.push([...bytes]));
  await midi.ask();
  midi.listen('i1');
  await midi.ask();
  control.play('i1', [0x90, 60, 1]);
  expect(heard).toEqual([[0x90, 60, 1]]);
  midi.listen('i1');
  control.play('i1', [0x90, 60, 1]);
  expect(heard).toHaveLength(2);
  midi.ignore('i1');
  control.play('i1', [0x90, 60, 0]);
  expect(heard).toHaveLength(2);
});

test('ports come and go', async () => {
  const { midi, control } = midiWith({});
  let changes = 0;
  midi.changed = () => changes++;
  await midi.ask();
  control.plug('o1', false);
  expect(midi.outputs()).toEqual([]);
  expect(midi.send('o1', Uint8Array.of(0x90, 1, 1))).toBe(false);
  control.plug('o1', true);
  expect(midi.send('o1', Uint8Array.of(0x90, 1, 1))).toBe(true);
  expect([changes, control.sent['o1']]).toEqual([3, [[0x90, 1, 1]]]);
});

test('a port that another program has is told, and the rest goes on', async () => {
  const { midi } = midiWith({ taken: ['i1', 'o1'] });
  await midi.ask();
  midi.listen('i1');
  await Promise.resolve();
  await Promise.resolve();
  expect(midi.trouble()['i1']).toContain('Another program has it');
  expect(midi.send('o1', Uint8Array.of(0x90, 1, 1))).toBe(false);
  expect(midi.listen('i2')).toBe(true);
});

test('without SysEx the displays are left out and the rest is sent', async () => {
  const { midi, control } = midiWith({ answer: 'plain only' });
  await midi.ask();
  midi.send('o1', Uint8Array.of(0x90, 1, 1, 0xf0, 1, 2, 0xf7, 0xe0, 0, 64));
  expect(control.sent['o1']).toEqual([
    [0x90, 1, 1],
    [0xe0, 0, 64],
  ]);
  expect([...withoutSysex(Uint8Array.of(0xf0, 1, 0xf7))]).toEqual([]);
});
