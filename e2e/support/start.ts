import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { picturesFolder } from '../../demo/art/render';
import { contentSystem } from '../../demo/content-system';

export interface Running {
  detto: ChildProcess;
  site: Server;
  data: string;
}

const shared = globalThis as typeof globalThis & { dettoRunning?: Running };

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
}

/** Starts the built application on an empty folder, and the demo site, for all browser tests. */
export default async function start(): Promise<void> {
  const site = contentSystem(await picturesFolder(path.resolve('dist/demo-pictures')));
  const [sitePort, slowPort, port] = [await freePort(), await freePort(), await freePort()];
  await new Promise<void>((resolve) => site.listen(sitePort, '127.0.0.1', resolve));
  const data = mkdtempSync(path.join(tmpdir(), 'detto-e2e-'));
  const engine = JSON.parse(readFileSync('scripts/engine.json', 'utf8')) as { flags: string[]; env: object };
  const detto = spawn(
    process.execPath,
    [...engine.flags, 'dist/workers/server.js', 'start', '-H', '127.0.0.1', '-p', String(port)],
    {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: {
        ...process.env,
        ...engine.env,
        NODE_OPTIONS: '',
        NODE_ENV: 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        NEXT_MANUAL_SIG_HANDLE: 'true',
        DETTO_DATA: path.join(data, 'data'),
        DETTO_PORT: String(port),
        DETTO_ALLOW_HOSTS: `127.0.0.1:${sitePort},127.0.0.1:${slowPort}`,
        DETTO_LOG: 'warn',
      },
    },
  );
  shared.dettoRunning = { detto, site, data };
  process.env['E2E_DETTO'] = `http://127.0.0.1:${port}`;
  process.env['E2E_SITE'] = `http://127.0.0.1:${sitePort}`;
  process.env['E2E_DATA'] = data;
  // Allowed as well, for sites that a test serves itself.
  process.env['E2E_SLOW_PORT'] = String(slowPort);
  for (let i = 0; i < 300; i++) {
    const response = await fetch(process.env['E2E_DETTO']).catch(() => null);
    if (response?.ok) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('Detto did not start.');
}
