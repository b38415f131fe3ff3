import { EventEmitter } from 'node:events';
import { endOnFault } from './guard';

test('a fault that nobody caught is told, what is held is let go of once, and it ends whatever that runs into', async () => {
  for (const event of ['uncaughtException', 'unhandledRejection'] as const)
    for (const letGoFails of [false, true]) {
      const process = new EventEmitter();
      const did: string[] = [];
      const ended = new Promise<void>((end) => {
        endOnFault(process, {
          tell: (error) => void did.push(`told ${(error as Error).message}`),
          letGo: () => {
            did.push('let go');
            if (letGoFails) throw new Error('of letting go');
          },
          end,
        });
      });
      process.emit(event, new Error('first'));
      process.emit('unhandledRejection', new Error('second'));
      await ended;
      expect(did).toEqual([
        'told first',
        'let go',
        ...(letGoFails ? ['told of letting go'] : []),
        'told second',
      ]);
    }
});
