import { EngineNet } from './engine-net';
import type { ToWorker } from './protocol';

function net() {
  const said: ToWorker[] = [];
  return { said, net: new EngineNet((message) => said.push(message)) };
}
const standing = (link: string, fault: string) => ({ link, hears: true, speaks: true, fault });

test('how links stand is known by link; one that is not told of stays as it was', () => {
  const { net: one } = net();
  one.hear({ kind: 'net standing', standing: [standing('a', ''), standing('b', 'taken')] });
  one.hear({ kind: 'net standing', standing: [standing('b', '')] });
  expect([one.standing()['a']?.fault, one.standing()['b']?.fault]).toEqual(['', '']);
  expect(one.hear({ kind: 'tempo', tempo: null })).toBe(false);
});

test('OSC comes to whoever watches, until they leave; the engine sends it only while anybody does', () => {
  const { net: one, said } = net();
  const heard: string[] = [];
  const stop = one.watchOsc((link) => heard.push(link));
  one.hear({ kind: 'osc', link: 'a', bytes: Uint8Array.of(), at: 0 });
  stop();
  one.hear({ kind: 'osc', link: 'b', bytes: Uint8Array.of(), at: 0 });
  expect(heard).toEqual(['a']);
  expect(said.map((message) => message.kind === 'watch net' && message.on)).toEqual([true, false]);
});

test('another worker is told what the one before it knew, and nothing where nothing was said', () => {
  const quiet = net();
  quiet.net.tellAgain();
  expect(quiet.said).toEqual([]);
  const { net: one, said } = net();
  one.openGlass(true);
  one.listenOsc({ listen: 9_000, to: null, from: [] });
  said.length = 0;
  one.tellAgain();
  expect(said.map(({ kind }) => kind).sort()).toEqual(['glass', 'watch net']);
});
