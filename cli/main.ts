import { Decoder } from './decode.js';
import { eachLine } from './lines.js';
import { Teacher } from './teach.js';

const HELP = `rondo decode   reads MIDI bytes as lines of text and prints each message as JSON

  Lines are "hex bytes" or "milliseconds,port,hex bytes". Each port is one continuous stream.

rondo teach    reads a captured movement and prints, as JSON, what controls it was

  Lines are "milliseconds,hex bytes". Below a confidence of 0.6 the evidence is thin; "why" says what to do.

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
  await eachLine((line) => decoder.take(line));
  flush();
  return decoder.badLines > 0 ? 1 : 0;
}

async function teach(): Promise<number> {
  const teacher = new Teacher((sentence) => process.stderr.write(sentence + '\n'));
  await eachLine((line) => teacher.take(line));
  process.stdout.write(JSON.stringify(teacher.finish(), null, 2) + '\n');
  return teacher.badLines > 0 ? 1 : 0;
}

async function main(command: string | undefined): Promise<number> {
  if (command === 'decode') return decode();
  if (command === 'teach') return teach();
  process.stderr.write(HELP);
  return command === undefined || command === 'help' || command === '--help' ? 0 : 2;
}

// A reader that stops early, as `head` does, is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});
process.exitCode = await main(process.argv[2]);
