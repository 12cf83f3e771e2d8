// `npm start`: installs and builds where that is needed, then serves Detto on this machine.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { install } from './install.mjs';
import { bundle } from './bundle.mjs';

const NEXT = 'node_modules/next/dist/bin/next';
const host = process.env.DETTO_HOST ?? '127.0.0.1';
const port = process.env.DETTO_PORT ?? '4800';
const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };

install();
await bundle();
if (!existsSync('.next/BUILD_ID')) {
  const { status } = spawnSync(process.execPath, [NEXT, 'build'], { stdio: 'inherit', env });
  if (status !== 0) process.exit(status ?? 1);
}
process.stdout.write(`Detto is at http://${host}:${port}\n`);
const server = spawn(process.execPath, [NEXT, 'start', '-H', host, '-p', port], { stdio: 'inherit', env });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
