// Bundles what runs outside Next: the command line and the worker processes.
import { readdirSync, statSync, existsSync } from 'node:fs';
import path from 'node:path';

const ENTRIES = {
  'dist/cli.js': 'cli/detto.ts',
  'dist/workers/reader.js': 'src/workers/reader.ts',
  'dist/workers/database.js': 'src/workers/database.ts',
};
const SOURCES = ['cli', 'src'];

function newest(folder) {
  let time = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true }))
    if (entry.isFile() && /\.(?:ts|json)$/.test(entry.name))
      time = Math.max(time, statSync(path.join(entry.parentPath ?? entry.path, entry.name)).mtimeMs);
  return time;
}

/** Bundles unless everything is newer than its sources. */
export async function bundle() {
  const outputs = Object.keys(ENTRIES);
  const oldest = Math.min(...outputs.map((f) => (existsSync(f) ? statSync(f).mtimeMs : 0)));
  if (oldest > Math.max(...SOURCES.map(newest))) return;
  const { build } = await import('esbuild');
  await Promise.all(
    Object.entries(ENTRIES).map(([outfile, entry]) =>
        build({
          entryPoints: [entry],
          outfile,
          bundle: true,
          platform: 'node',
          format: 'esm',
          target: 'node20',
          packages: 'external',
          sourcemap: 'linked',
          logLevel: 'error',
          tsconfig: 'tsconfig.json',
        }),
      ),
  );
}
