import { execFileSync, spawn, type ChildProcess } from 'node:child_process';

const HERE = '10.99.0.1';
const THERE = '10.99.0.2';

/** The command line that runs a program in the network of a process, as its user. */
const inNetOf = (pid: number, ...command: string[]): [string, string[]] => [
  'nsenter',
  ['-t', String(pid), '-U', '--preserve-credentials', '-n', ...command],
];
const run = ([command, args]: [string, string[]]): string =>
  execFileSync(command, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });

/** Waits for the first line of a program; fails where it ends without one. */
function firstLine(child: ChildProcess): Promise<string> {
  return new Promise((done, fail) => {
    child.stdout!.once('data', (chunk: Buffer) => done(String(chunk)));
    child.once('error', fail);
    child.once('exit', () => fail(new Error('It ended before it said anything.')));
  });
}

/** Two machines with a cable between them, as network namespaces of one (Linux, namespaces(7), veth(4)). */
export class TwoMachines {
  readonly address = HERE;
  private readonly running: ChildProcess[] = [];
  private readonly pids: number[] = [];

  /** Makes them; null where the system does not let. */
  static async make(): Promise<TwoMachines | null> {
    const two = new TwoMachines();
    try {
      await two.hold('unshare', ['--user', '--map-root-user', '--net']);
      const [here] = two.pids;
      await two.hold(...inNetOf(here, 'unshare', '--net'));
      const there = two.pids[1];
      const ip = (pid: number, words: string) => run(inNetOf(pid, 'ip', ...words.split(' ')));
      ip(here, `link add near type veth peer name far netns ${there}`);
      ip(here, 'link set lo up');
      ip(here, `addr add ${HERE}/24 dev near`);
      ip(here, 'link set near up');
      ip(there, `addr add ${THERE}/24 dev far`);
      ip(there, 'link set far up');
      return two;
    } catch {
      two.end();
      return null;
    }
  }

  /** Something that does nothing but keep a namespace. */
  private async hold(command: string, args: string[]): Promise<void> {
    const keep = ['sh', '-c', 'echo $$; exec sleep infinity'];
    const child = spawn(command, [...args, ...keep], { stdio: ['ignore', 'pipe', 'ignore'] });
    this.running.push(child);
    this.pids.push(Number(await firstLine(child)));
  }

  /** Starts a program on the machine that is looked at, and waits for its first line. */
  async start(env: Record<string, string>, ...command: string[]): Promise<string> {
    const child = spawn(...inNetOf(this.pids[0], ...command), {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.running.push(child);
    return firstLine(child);
  }
  /** What a program prints that runs there, or on the other machine. */
  here(...command: string[]): string {
    return run(inNetOf(this.pids[0], ...command));
  }
  elsewhere(...command: string[]): string {
    return run(inNetOf(this.pids[1], ...command));
  }
  end(): void {
    for (const child of this.running.reverse()) child.kill('SIGKILL');
  }
}
