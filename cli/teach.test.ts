import { Teacher } from './teach.js';

test('a captured movement becomes a list of controls; bad lines are named and skipped', () => {
  const errors: string[] = [];
  const teacher = new Teacher((sentence) => errors.push(sentence));
  const lines = ['no line', '5,zz'];
  for (let i = 0; i < 12; i++) {
    lines.push(`${i * 30},b0 10 ${i % 3 === 0 ? '41' : '01'}`);
    lines.push(`${i * 700 + 5_000},90 20 7f`, `${i * 700 + 5_100},90 20 00`);
  }
  for (const line of lines) teacher.take(line);
  expect(teacher.finish()).toEqual([
    {
      sends: {
        type: 'controlChange',
        channel: 1,
        number: 16,
        resolution: 7,
        encoding: 'signMagnitude',
      },
      kind: 'encoder',
      behaviour: 'continuous',
      confidence: expect.any(Number),
      why: expect.stringContaining('sign-magnitude'),
    },
    {
      sends: { type: 'note', channel: 1, number: 32 },
      kind: 'button',
      behaviour: 'momentary',
      confidence: expect.any(Number),
      why: expect.stringContaining('momentary'),
    },
  ]);
  expect(errors).toEqual([
    'Line 1: needs milliseconds, a comma and hex bytes.',
    'Line 2: needs milliseconds, a comma and hex bytes.',
  ]);
});

test('nothing captured is an empty list', () => {
  expect(new Teacher(() => undefined).finish()).toEqual([]);
});
