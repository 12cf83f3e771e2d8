// `npm run dev`: Detto for work on it. Pages and routes reload as their files change; workers and the command line
// are bundled again, and take effect with the next start. Its data folder is its own.
import { spawn } from 'node:child_process';
import { watch } from 'node:fs';
import { bundle } from './bundle.mjs';
import { ENGINE } from './engine.mjs';
import { install } from './install.mjs';
import { follow } from './serve.mjs';

install();
await bundle();
const { DETTO_HOST: host = '127.0.0.1', DETTO_PORT: port = '4800' } = process.env;
const server = spawn(process.execPath, ['node_modules/next/dist/bin/next', 'dev', '-H', host, '-p', port], {
  stdio: ['ignore', 'inherit', 'inherit'],
  env: {
    DETTO_DATA: 'data/dev',
    ...ENGINE.env,
    ...process.env,
    NEXT_TELEMETRY_DISABLED: '1',
    NEXT_MANUAL_SIG_HANDLE: 'true',
  },
});
follow(server);

/** Milliseconds after the last change. */
const QUIET = 400;
let timer;
for (const folder of ['src', 'cli', 'demo'])
  watch(folder, { recursive: true }, () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      bundle().catch((error) => process.stderr.write(`${error.message}\n`));
    }, QUIET);
  });
