import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import WebSocket from 'ws';

interface Reply {
  id?: number;
  result?: Record<string, unknown>;
  error?: { message: string };
  method?: string;
  params?: Record<string, unknown>;
  sessionId?: string;
}
interface Attached {
  sessionId: string;
  targetInfo: { type: string; url: string };
  waitingForDebugger: boolean;
}

/**
 * Chromium driven over the DevTools protocol alone. A page driven the ordinary way never becomes hidden; here tabs
 * are tabs, and one in front hides the other.
 */
export class Browser {
  private next = 1;
  private readonly waiting = new Map<number, (reply: Reply) => void>();
  private readonly tabs = new Map<string, Tab>();

  private constructor(
    private readonly child: ChildProcess,
    private readonly socket: WebSocket,
    /** Where it keeps what it knows of its user. */
    readonly folder: string,
  ) {
    socket.on('message', (data: Buffer) => {
      const reply = JSON.parse(data.toString()) as Reply;
      if (reply.id !== undefined) this.waiting.get(reply.id)?.(reply);
      else if (reply.method === 'Target.attachedToTarget')
        void this.tabs.get(reply.sessionId ?? '')?.adopt(reply.params as unknown as Attached);
    });
  }

  /** @param folder where it keeps what it knows of its user; a new one where none is given */
  static async start(folder = mkdtempSync(join(tmpdir(), 'rondo-chromium-'))): Promise<Browser> {
    const child = spawn(
      process.env['RONDO_CHROMIUM'] ?? '/usr/bin/chromium',
      [
        '--headless=new',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        '--remote-debugging-port=0',
        `--user-data-dir=${folder}`,
      ],
      { stdio: ['ignore', 'ignore', 'pipe'] },
    );
    const address = await new Promise<string>((done, fail) => {
      let text = '';
      child.stderr.on('data', (chunk: Buffer) => {
        text += String(chunk);
        const found = /DevTools listening on (ws:\S+)/.exec(text);
        if (found) done(found[1]);
      });
      child.once('exit', () => fail(new Error(`Chromium did not start: ${text}`)));
    });
    const socket = new WebSocket(address);
    await once(socket, 'open');
    return new Browser(child, socket, folder);
  }

  async send(
    method: string,
    params: object = {},
    sessionId?: string,
  ): Promise<Record<string, unknown>> {
    const id = this.next++;
    const reply = await new Promise<Reply>((done) => {
      this.waiting.set(id, done);
      this.socket.send(JSON.stringify({ id, method, params, sessionId }));
    });
    this.waiting.delete(id);
    if (reply.error) throw new Error(`${method}: ${reply.error.message}`);
    return reply.result ?? {};
  }

  async openTab(url: string): Promise<Tab> {
    const { targetId } = await this.send('Target.createTarget', { url });
    const { sessionId } = await this.send('Target.attachToTarget', { targetId, flatten: true });
    const tab = new Tab(this, String(targetId), String(sessionId));
    this.tabs.set(String(sessionId), tab);
    await tab.send('Page.enable');
    // Frames of another site are targets of their own: they wait until they have what belongs into them.
    await tab.send('Target.setAutoAttach', {
      autoAttach: true,
      waitForDebuggerOnStart: true,
      flatten: true,
    });
    return tab;
  }

  /** Ends as in a power cut: nothing is finished, the folder stays. */
  async kill(): Promise<void> {
    const gone = once(this.child, 'exit');
    this.child.kill('SIGKILL');
    await gone;
  }

  async close(): Promise<void> {
    // Asked to close, it ends its own children first, which else write into the folder on.
    const gone = once(this.child, 'exit');
    this.socket.send(JSON.stringify({ id: this.next++, method: 'Browser.close' }));
    const patience = setTimeout(() => this.child.kill('SIGKILL'), 10_000);
    await gone;
    clearTimeout(patience);
    rmSync(this.folder, { recursive: true, force: true, maxRetries: 20, retryDelay: 100 });
  }
}

export class Tab {
  private readonly scripts: string[] = [];
  private frame: Tab | null = null;
  private framed: (frame: Tab) => void = () => undefined;

  constructor(
    private readonly browser: Browser,
    readonly targetId: string,
    private readonly sessionId: string,
  ) {}

  send(method: string, params: object = {}): Promise<Record<string, unknown>> {
    return this.browser.send(method, params, this.sessionId);
  }

  /** Runs a script before those of every document, in frames of another site too. */
  async before(source: string): Promise<void> {
    this.scripts.push(source);
    await this.send('Page.addScriptToEvaluateOnNewDocument', { source });
  }

  /** Gives a frame of another site what belongs into it, and lets it go on. */
  async adopt({ sessionId, targetInfo, waitingForDebugger }: Attached): Promise<void> {
    const frame = new Tab(this.browser, this.targetId, sessionId);
    if (targetInfo.type === 'iframe') {
      await frame.send('Page.enable');
      for (const script of this.scripts) await frame.before(script);
      this.frame = frame;
      this.framed(frame);
    }
    if (waitingForDebugger) await frame.send('Runtime.runIfWaitingForDebugger');
  }

  /** The frame of another site that comes after the present one. */
  nextFrame(): Promise<Tab> {
    this.frame = null;
    return this.ofFrame();
  }

  /** The newest frame of another site, as soon as there is one. */
  ofFrame(): Promise<Tab> {
    if (this.frame) return Promise.resolve(this.frame);
    return new Promise((done) => (this.framed = done));
  }

  /** Value of an expression in the page; promises are awaited. */
  async evaluate<T>(expression: string): Promise<T> {
    const { result, exceptionDetails } = (await this.send('Runtime.evaluate', {
      expression,
      awaitPromise: true,
      returnByValue: true,
    })) as {
      result: { value: T };
      exceptionDetails?: { text: string; exception?: { description?: string } };
    };
    if (exceptionDetails)
      throw new Error(exceptionDetails.exception?.description ?? exceptionDetails.text);
    return result.value;
  }

  toFront(): Promise<unknown> {
    return this.browser.send('Target.activateTarget', { targetId: this.targetId });
  }
}
