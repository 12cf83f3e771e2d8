// `npm run bench -- NAME`: runs one benchmark of bench/ on the bundled code.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { install } from './install.mjs';
import { bundle } from './bundle.mjs';

const name = process.argv[2] ?? '';
const entry = `bench/${name}.ts`;
if (!/^[a-z-]+$/.test(name) || !existsSync(entry)) {
  process.stderr.write(`Say which benchmark: npm run bench -- large-collection\n`);
  process.exit(2);
}
install();
await bundle();
const { build } = await import('esbuild');
await build({
  entryPoints: [entry],
  outfile: `dist/bench/${name}.js`,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  logLevel: 'error',
  tsconfig: 'tsconfig.json',
});
process.exit(
  spawnSync(process.execPath, [`dist/bench/${name}.js`, ...process.argv.slice(3)], { stdio: 'inherit' }).status ?? 1,
);
