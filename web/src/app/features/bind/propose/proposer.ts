import type { Profile } from '@rondo/core/profile';
import type { Proposal, propose } from '@rondo/core/propose';

export interface Asked {
  /** Which question it is: of several only the newest answer counts. */
  readonly at: number;
  readonly profile: Profile;
  readonly surfaces: Parameters<typeof propose>[1];
  readonly hosts: Parameters<typeof propose>[2];
}
export interface Answered {
  readonly at: number;
  readonly proposal: Proposal;
}

/** Asks for proposals in a worker, so that drawing never waits for them. */
export class Proposer {
  private readonly worker = new Worker(new URL('./propose.worker', import.meta.url), {
    type: 'module',
  });
  private at = 0;

  constructor(answered: (proposal: Proposal) => void, failed: () => void) {
    this.worker.onmessage = ({ data }: MessageEvent<Answered>) => {
      if (data.at === this.at) answered(data.proposal);
    };
    this.worker.onerror = (event) => {
      event.preventDefault();
      failed();
    };
  }

  ask(question: Omit<Asked, 'at'>): void {
    this.worker.postMessage({ ...question, at: ++this.at } satisfies Asked);
  }

  end(): void {
    this.worker.terminate();
  }
}
