// Builds Detto where that is needed, and starts the web application.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { install } from './install.mjs';
import { bundle, newest } from './bundle.mjs';
import { ENGINE } from './engine.mjs';

const NEXT = 'node_modules/next/dist/bin/next';
const MARK = '.next/BUILD_ID';

/** Installs, bundles and builds; each only where something is newer than its result. */
export async function build() {
  install();
  await bundle();
  if (existsSync(MARK) && statSync(MARK).mtimeMs > newest(['src', 'next.config.ts', 'package-lock.json'])) return;
  process.stderr.write('Building Detto (about a minute) …\n');
  const { status } = spawnSync(process.execPath, [NEXT, 'build'], {
    stdio: ['ignore', 2, 2],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  });
  if (status !== 0) throw new Error('The build failed; see above.');
}

/** Starts the built application; gives back its process. */
export function serve(env) {
  const all = { ...ENGINE.env, ...process.env, NEXT_TELEMETRY_DISABLED: '1', NEXT_MANUAL_SIG_HANDLE: 'true', ...env };
  const { DETTO_HOST: host = '127.0.0.1', DETTO_PORT: port = '4800' } = all;
  const server = spawn(process.execPath, [...ENGINE.flags, 'dist/workers/server.js', 'start', '-H', host, '-p', port], {
    stdio: ['ignore', 2, 2],
    env: all,
  });
  return { server, address: `http://${host}:${port}` };
}

/** Waits until an address answers. */
export async function answers(address, server, seconds = 60) {
  for (let i = 0; i < seconds * 5; i++) {
    if (server.exitCode !== null) throw new Error('Detto ended before it answered; see above.');
    const response = await fetch(address).catch(() => null);
    if (response?.ok) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error(`Nothing answers at ${address}.`);
}

/** Ends with the process that was started, and ends it on a signal. */
export function follow(server, cleanUp = () => {}) {
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  server.on('exit', (code) => {
    cleanUp();
    process.exit(code ?? 0);
  });
}
