// `npm run -s detto -- …`: the command line, installed and bundled where that is needed.
import { spawnSync } from 'node:child_process';
import { install } from './install.mjs';
import { bundle } from './bundle.mjs';
import { ENGINE } from './engine.mjs';

try {
  install();
  await bundle();
} catch (error) {
  process.stderr.write(`detto: ${error.message}\n`);
  process.exit(2);
}
const { status } = spawnSync(process.execPath, [...ENGINE.flags, 'dist/cli.js', ...process.argv.slice(2)], {
  stdio: 'inherit',
  env: { ...ENGINE.env, ...process.env },
});
process.exit(status ?? 2);
