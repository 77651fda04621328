import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { createServer } from 'node:net';

const START_MS = 60_000;

async function freePort(): Promise<number> {
  const probe = createServer().listen(0, '127.0.0.1');
  await once(probe, 'listening');
  const { port } = probe.address() as { port: number };
  probe.close();
  await once(probe, 'close');
  return port;
}

/** The real server on a data folder of its own. */
export class Server {
  readonly url: string;
  private readonly process: ChildProcess;

  private constructor(process: ChildProcess, url: string) {
    this.process = process;
    this.url = url;
  }

  static async start(dataFolder: string, port?: number): Promise<Server> {
    const at = port ?? (await freePort());
    const own = { IRIMI_ROOT: process.cwd(), IRIMI_DATA: dataFolder, PORT: String(at) };
    const child = spawn(process.execPath, ['dist/cli.mjs', 'serve'], {
      env: { ...process.env, ...own, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    const server = new Server(child, `http://127.0.0.1:${at}`);
    for (const began = Date.now(); ; await new Promise((r) => setTimeout(r, 150))) {
      const answer = await fetch(`${server.url}/api/health`).catch(() => null); // not listening yet
      if (answer?.ok === true) return server;
      if (child.exitCode !== null || Date.now() - began > START_MS) throw new Error('the server did not start');
    }
  }

  /** Sends JSON as a page of this server would. */
  send(method: 'POST' | 'DELETE', path: string, body: unknown = null, headers: Record<string, string> = {}): Promise<Response> {
    return fetch(`${this.url}/api/${path}`, {
      method,
      headers: { origin: this.url, 'content-type': 'application/json', ...headers },
      ...(body === null ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
  }

  get port(): number {
    return Number(new URL(this.url).port);
  }

  /** Ends it like a crash would when `signal` is SIGKILL. */
  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    if (this.process.exitCode !== null || this.process.signalCode !== null) return;
    const ended = once(this.process, 'exit');
    this.process.kill(signal);
    await ended;
  }
}
