import { createInterface } from 'node:readline';
import { Decoder } from './decode.js';

const HELP = `rondo decode   reads MIDI bytes as lines of text and prints each message as JSON

  Lines are "hex bytes" or "milliseconds,port,hex bytes". Each port is one continuous stream.
  Lines that cannot be read are named on standard error, and the exit code is then 1.
`;

/** Output is gathered into blocks of this many characters. */
const BLOCK = 1 << 16;

async function decode(): Promise<number> {
  let block = '';
  const flush = () => {
    process.stdout.write(block);
    block = '';
  };
  const decoder = new Decoder(
    (json) => {
      block += json + '\n';
      if (block.length > BLOCK) flush();
    },
    (sentence) => process.stderr.write(sentence + '\n'),
  );
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity }))
    decoder.take(line);
  flush();
  return decoder.badLines > 0 ? 1 : 0;
}

async function main(command: string | undefined): Promise<number> {
  if (command === 'decode') return decode();
  process.stderr.write(HELP);
  return command === undefined || command === 'help' || command === '--help' ? 0 : 2;
}

// A reader that stops early, as `head` does, is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});
process.exitCode = await main(process.argv[2]);
