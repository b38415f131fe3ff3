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
}

/**
 * Chromium driven over the DevTools protocol alone. A page driven the ordinary way never becomes hidden; here tabs
 * are tabs, and one in front hides the other.
 */
export class Browser {
  private next = 1;
  private readonly waiting = new Map<number, (reply: Reply) => void>();

  private constructor(
    private readonly child: ChildProcess,
    private readonly socket: WebSocket,
    private readonly folder: string,
  ) {
    socket.on('message', (data: Buffer) => {
      const reply = JSON.parse(data.toString()) as Reply;
      if (reply.id !== undefined) this.waiting.get(reply.id)?.(reply);
    });
  }

  static async start(): Promise<Browser> {
    const folder = mkdtempSync(join(tmpdir(), 'rondo-chromium-'));
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
    await tab.send('Page.enable');
    return tab;
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
  constructor(
    private readonly browser: Browser,
    readonly targetId: string,
    private readonly sessionId: string,
  ) {}

  send(method: string, params: object = {}): Promise<Record<string, unknown>> {
    return this.browser.send(method, params, this.sessionId);
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
