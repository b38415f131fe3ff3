import idl from '@webref/idl';
import { installWebMidi, type MidiPlan } from './web-midi';

interface FakeAccess {
  inputs: Map<string, object>;
  outputs: Map<string, { send(bytes: number[]): void }>;
}
const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'i', name: 'In' }],
  outputs: [{ id: 'o', name: 'Out' }],
};

async function access(plan: Partial<MidiPlan> = {}, sysex = true) {
  const scope = { navigator: {} };
  const control = installWebMidi(scope, { ...PLAN, ...plan });
  const { requestMIDIAccess } = scope.navigator as {
    requestMIDIAccess(options: { sysex: boolean }): Promise<FakeAccess>;
  };
  return { control, access: await requestMIDIAccess({ sysex }) };
}

// Source: the W3C Web MIDI API's published interface definitions, as carried by the package @webref/idl.
test('the stand-in has every attribute and operation that the W3C interface names', async () => {
  const all = await idl.parseAll();
  const definitions = all['webmidi'];
  const membersOf = (name: string): string[] =>
    definitions.flatMap((definition) =>
      definition.type === 'interface' && definition.name === name
        ? [
            ...(definition.inheritance?.startsWith('MIDI')
              ? membersOf(definition.inheritance)
              : []),
            ...definition.members.flatMap((member) =>
              member.type === 'attribute' || member.type === 'operation' ? [member.name ?? ''] : [],
            ),
          ]
        : [],
    );
  const { access: midi } = await access();
  const objects: [string, object][] = [
    ['MIDIAccess', midi],
    ['MIDIInput', midi.inputs.get('i')!],
    ['MIDIOutput', midi.outputs.get('o')!],
  ];
  for (const [name, object] of objects) {
    const members = membersOf(name);
    expect(members.length).toBeGreaterThan(2);
    for (const member of members)
      expect(`${name}.${member in object ? member : '?'}`).toBe(`${name}.${member}`);
  }
});

// W3C Web MIDI API, MIDIOutput.send().
test.each([
  ['running status', [0x90, 60, 1, 61, 1], 'TypeError'],
  ['an incomplete message', [0xb0, 7], 'TypeError'],
  ['an incomplete SysEx', [0xf0, 1, 2], 'TypeError'],
])('send refuses %s', async (_, bytes, name) => {
  const { access: midi } = await access();
  expect(() => midi.outputs.get('o')!.send(bytes)).toThrow(expect.objectContaining({ name }));
});

test('send refuses SysEx where it was not granted, and everything once the port is gone', async () => {
  const { access: midi, control } = await access({}, false);
  const out = midi.outputs.get('o')!;
  expect(() => out.send([0xf0, 1, 0xf7])).toThrow(
    expect.objectContaining({ name: 'InvalidAccessError' }),
  );
  control.plug('o', false);
  expect(() => out.send([0x90, 1, 1])).toThrow(
    expect.objectContaining({ name: 'InvalidStateError' }),
  );
});
