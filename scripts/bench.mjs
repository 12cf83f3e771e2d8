// `npm run bench -- NAME`: runs one benchmark of bench/ on the bundled code.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { install } from './install.mjs';
import { bundle } from './bundle.mjs';
import { build as buildApplication } from './serve.mjs';
import { surveyPeers } from './debian.mjs';
import { ENGINE } from './engine.mjs';

/** Those that start the web application. */
const WITH_APPLICATION = ['hands', 'survey-large', 'soak'];
const name = process.argv[2] ?? '';
const entry = `bench/${name}.ts`;
if (!/^[a-z-]+$/.test(name) || !existsSync(entry)) {
  process.stderr.write(`Say which benchmark: npm run bench -- large-collection\n`);
  process.exit(2);
}
if (name.startsWith('survey')) surveyPeers();
if (WITH_APPLICATION.includes(name)) await buildApplication();
else {
  install();
  await bundle();
}
const { build } = await import('esbuild');
const entries = readdirSync('bench').filter((file) => file.endsWith('.ts'));
await build({
  // Some have helpers that run in processes of their own.
  entryPoints: entries.map((file) => `bench/${file}`),
  outdir: 'dist/bench',
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  logLevel: 'error',
  tsconfig: 'tsconfig.json',
});
process.exit(
  spawnSync(process.execPath, [...ENGINE.flags, `dist/bench/${name}.js`, ...process.argv.slice(3)], {
    stdio: 'inherit',
    env: { ...ENGINE.env, ...process.env },
  }).status ?? 1,
);
