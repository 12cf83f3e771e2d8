// Builds Detto where that is needed, and starts the web application.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { connect } from 'node:net';
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

/** Whether somebody listens at an address already: whoever answers there would be taken for Detto. */
function isTaken(host, port) {
  return new Promise((resolve) => {
    const socket = connect({ host, port: Number(port) });
    socket.setTimeout(1000);
    const done = (taken) => {
      socket.destroy();
      resolve(taken);
    };
    socket
      .on('connect', () => done(true))
      .on('error', () => done(false))
      .on('timeout', () => done(false));
  });
}

/** Says in one sentence why Detto does not start, and ends. */
export function refuse(reason) {
  process.stderr.write(`Detto does not start. ${reason}\n`);
  process.exit(1);
}

/** Starts the built application; gives back its process. */
export async function serve(env) {
  const all = { ...ENGINE.env, ...process.env, NEXT_TELEMETRY_DISABLED: '1', NEXT_MANUAL_SIG_HANDLE: 'true', ...env };
  const { DETTO_HOST: host = '127.0.0.1', DETTO_PORT: port = '4800' } = all;
  const asked = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
  if (await isTaken(asked, port))
    refuse(`Something else listens on port ${port} of ${host}. Stop it, or set DETTO_PORT to another number.`);
  const server = spawn(process.execPath, [...ENGINE.flags, 'dist/workers/server.js', 'start', '-H', host, '-p', port], {
    stdio: ['ignore', 2, 2],
    env: all,
  });
  return { server, address: `http://${asked.includes(':') ? `[${asked}]` : asked}:${port}` };
}

/** Waits until an address answers; what does not answer in time is ended, and this process with it. */
export async function answers(address, server, seconds = 60) {
  for (let i = 0; i < seconds * 5; i++) {
    // It has said why; whoever follows it ends this process as well.
    if (server.exitCode !== null || server.signalCode !== null) return new Promise(() => {});
    const response = await fetch(address, { redirect: 'manual' }).catch(() => null);
    if (response && response.status < 400) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  server.kill('SIGKILL');
  refuse(`Nothing answers at ${address} after ${seconds} seconds.`);
}

/** Milliseconds after a signal until what has not ended by itself is killed. */
const PATIENCE = 10_000;

/** Ends with the process that was started, and ends it on a signal. */
export function follow(server, cleanUp = () => {}) {
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.on(signal, () => {
      server.kill(signal);
      setTimeout(() => server.kill('SIGKILL'), PATIENCE).unref();
    });
  server.on('exit', (code) => {
    cleanUp();
    process.exit(code ?? 1);
  });
}
