import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import engine from '../../scripts/engine.json' with { type: 'json' };

/** Detto ended while it started; `message` is what it said. */
export class StartError extends Error {
  readonly code = 'not-started';
}

/** A port that nothing listens on now. */
export async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
}

/** @throws Error when the collection cannot be added, or the survey does not end within three minutes */
export async function surveyed(
  address: string,
  asked: { kind: 'site' | 'folder'; where: string; name: string },
): Promise<string> {
  const response = await fetch(`${address}/api/collections`, { method: 'POST', body: JSON.stringify(asked) });
  const { id, error } = (await response.json()) as { id: string; error?: string };
  if (error) throw new Error(error);
  for (let i = 0; i < 3000; i++) {
    const shelf = (await (await fetch(`${address}/api/collections`)).json()) as {
      id: string;
      survey: { state: string };
      isAnalysing: boolean;
    }[];
    // Under load it may say that it could not answer yet.
    const own = Array.isArray(shelf) ? shelf.find((c) => c.id === id) : undefined;
    if (own && own.survey.state !== 'running' && !own.isAnalysing) return id;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('The survey, or looking at the pictures, did not end.');
}

/** The built application, for browser tests and the soak: to be started, ended, killed and started again. */
export class DettoProcess {
  private child: ChildProcess | null = null;
  readonly address: string;
  kills = 0;
  /** Seconds that each start took. */
  readonly starts: number[] = [];

  /** @param env what it is started with, beside what every Detto is started with */
  constructor(
    private readonly port: number,
    private readonly env: Record<string, string>,
  ) {
    this.address = `http://127.0.0.1:${port}`;
  }

  /** @throws StartError when it ends, or does not answer within three minutes */
  async start(): Promise<void> {
    const begun = performance.now();
    const args = [...engine.flags, 'dist/workers/server.js', 'start', '-H', '127.0.0.1', '-p', String(this.port)];
    const child = spawn(process.execPath, args, {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: {
        ...process.env,
        ...engine.env,
        NODE_OPTIONS: '',
        NODE_ENV: 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        NEXT_MANUAL_SIG_HANDLE: 'true',
        DETTO_PORT: String(this.port),
        ...this.env,
      },
    });
    this.child = child;
    let said = '';
    child.stderr.setEncoding('utf8').on('data', (text: string) => {
      said = (said + text).slice(-2_000);
      process.stderr.write(text);
    });
    for (let i = 0; i < 1800; i++) {
      if (child.exitCode !== null) throw new StartError(said.trim() || `Detto ended with ${child.exitCode}.`);
      const answer = await fetch(`${this.address}/api/health`).catch(() => null);
      if (answer && answer.status !== 503) {
        this.starts.push((performance.now() - begun) / 1000);
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new StartError(`Detto did not answer within three minutes. ${said.trim()}`);
  }

  /**
   * Adds a collection, and waits until it is surveyed and its pictures are looked at: what is found then would come in between.
   *
   * @returns its id
   */
  survey(asked: { kind: 'site' | 'folder'; where: string; name: string }): Promise<string> {
    return surveyed(this.address, asked);
  }

  private gone(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
    return new Promise((resolve) => child.once('exit', () => resolve()));
  }

  async kill(): Promise<void> {
    this.kills++;
    this.child?.kill('SIGKILL');
    await this.gone();
  }

  /** Ends it as a system does that shuts down; gives back the seconds it took. */
  async end(): Promise<number> {
    const begun = performance.now();
    this.child?.kill('SIGTERM');
    await this.gone();
    return (performance.now() - begun) / 1000;
  }

  /** Megabytes in memory now; 0 when it does not run. */
  get memory(): number {
    try {
      const status = readFileSync(`/proc/${this.child?.pid}/status`, 'utf8');
      return Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
    } catch {
      return 0;
    }
  }
}
