import '@angular/compiler';
import { ApiError } from '../../state/api';
import { Task } from './task';

const failing = (message: string) => () => Promise.reject(new ApiError('failed', message));
const working = () => Promise.resolve();

test('what went wrong stays said, whatever else works meanwhile, until it is done again or dismissed', async () => {
  const backUp = new Task();
  const load = new Task();
  expect(await backUp.run(failing('The disk is full.'))).toBe(false);
  await load.run(working);
  expect(backUp.fault()).toBe('The disk is full.');
  backUp.dismiss();
  expect(backUp.fault()).toBe('');
});

test('it can be tried again, and says that it is going on while it is', async () => {
  const task = new Task();
  let isFull = true;
  await task.run(() => (isFull ? failing('Full.')() : working()));
  isFull = false;
  task.tryAgain();
  expect(task.busy()).toBe(true);
  await Promise.resolve();
  await Promise.resolve();
  expect([task.busy(), task.fault()]).toEqual([false, '']);
});

test('of several that overlap the last one says how it ended', async () => {
  const task = new Task();
  let fail: (error: Error) => void = () => undefined;
  const first = task.run(() => new Promise((_, reject) => (fail = reject)));
  await task.run(working);
  fail(new ApiError('failed', 'Late.'));
  await first;
  expect([task.busy(), task.fault()]).toEqual([false, '']);
});
