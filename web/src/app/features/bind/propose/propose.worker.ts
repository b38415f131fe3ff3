/// <reference lib="webworker" />
import { propose } from '@rondo/core/propose';
import type { Asked, Answered } from './proposer';
import * as z from 'zod';

// Zod would else try `new Function`, which the content security policy forbids.
z.config({ jitless: true });

addEventListener('message', ({ data }: MessageEvent<Asked>) => {
  const { at, profile, surfaces, hosts } = data;
  const answer: Answered = { at, proposal: propose(profile, surfaces, hosts) };
  postMessage(answer);
});
