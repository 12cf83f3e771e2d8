// `npm run worker`: a process that does jobs beside `npm start`, on the database that DATABASE_URL names.
import { spawn } from 'node:child_process';
import { build, follow } from './serve.mjs';
import { ENGINE } from './engine.mjs';

await build();
follow(
  spawn(process.execPath, [...ENGINE.flags, 'dist/workers/worker.js'], {
    stdio: ['ignore', 2, 2],
    env: { ...ENGINE.env, ...process.env },
  }),
);
