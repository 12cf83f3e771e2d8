// Bundles what runs outside Next: the command line, the workers and the demo; makes the database's template.
import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import packageJson from '../package.json' with { type: 'json' };

const { dependencies } = packageJson;

const ENTRIES = {
  'dist/cli.js': 'cli/detto.ts',
  'dist/workers/server.js': 'src/workers/server.ts',
  'dist/workers/worker.js': 'src/workers/worker.ts',
  'dist/workers/reader.js': 'src/workers/reader.ts',
  'dist/workers/documents.js': 'src/workers/documents.ts',
  'dist/workers/tables.js': 'src/workers/tables.ts',
  'dist/workers/analyser.js': 'src/workers/analyser.ts',
  'dist/workers/recogniser.js': 'src/workers/recogniser.ts',
  'dist/workers/auditor.js': 'src/workers/auditor.ts',
  'dist/workers/database.js': 'src/workers/database.ts',
  'dist/workers/database-template.js': 'src/workers/database-template.ts',
  'dist/workers/pack-dictionaries.js': 'src/workers/pack-dictionaries.ts',
  'dist/demo.js': 'demo/serve.ts',
  'dist/workers/survey-once.js': 'src/workers/survey-once.ts',
};
/** Packages of many small modules, which load several times faster as one; the others stay in node_modules. */
const BUNDLED = [
  'zod',
  'drizzle-orm',
  'parse5',
  'entities',
  'css-select',
  'p-queue',
  'tldts',
  'saxes',
  'undici',
  'css-tree',
];
const CHUNKS = 'dist/chunks';
const DICTIONARIES = 'dist/dictionaries';
const TEMPLATE = 'dist/database-template';
/** What the tables of the template come from. */
const TEMPLATE_SOURCES = ['drizzle', 'src/server/db', 'src/server/jobs/kinds.ts', 'package-lock.json'];
/** What text in pictures is read with: one package a language, wanted in one folder. */
const LANGUAGES = ['eng', 'deu', 'fra', 'spa', 'ita', 'nld', 'por'];
const LANGUAGES_AT = 'dist/text-languages';

function layLanguages() {
  mkdirSync(LANGUAGES_AT, { recursive: true });
  for (const language of LANGUAGES) {
    const file = `${language}.traineddata.gz`;
    if (!existsSync(path.join(LANGUAGES_AT, file)))
      copyFileSync(`node_modules/@tesseract.js-data/${language}/4.0.0_best_int/${file}`, path.join(LANGUAGES_AT, file));
  }
}

/** Written anew when the packages that they come from have changed. */
function packDictionaries() {
  const last = path.join(DICTIONARIES, 'pt-br.btrie');
  if (existsSync(last) && statSync(last).mtimeMs > statSync('package-lock.json').mtimeMs) return;
  const { status } = spawnSync(process.execPath, ['dist/workers/pack-dictionaries.js'], { stdio: ['ignore', 2, 2] });
  if (status !== 0) throw new Error('The dictionaries could not be written; see above.');
}

/** When the newest of some files and folders was changed, in milliseconds. */
export function newest(places) {
  let time = 0;
  for (const place of places) {
    const files = statSync(place).isFile()
      ? [place]
      : readdirSync(place, { withFileTypes: true, recursive: true })
          .filter((e) => e.isFile())
          .map((e) => path.join(e.parentPath ?? e.path, e.name));
    for (const file of files) time = Math.max(time, statSync(file).mtimeMs);
  }
  return time;
}

/** Bundles unless everything is newer than its sources. */
export async function bundle() {
  layLanguages();
  const oldest = Math.min(...Object.keys(ENTRIES).map((f) => (existsSync(f) ? statSync(f).mtimeMs : 0)));
  if (oldest <= newest(['cli', 'src', 'demo', 'package-lock.json', 'scripts/bundle.mjs'])) {
    const { build } = await import('esbuild');
    rmSync(CHUNKS, { recursive: true, force: true });
    await build({
      entryPoints: Object.entries(ENTRIES).map(([outfile, entry]) => ({
        in: entry,
        out: path.relative('dist', outfile).replace(/\.js$/, ''),
      })),
      outdir: 'dist',
      chunkNames: `${path.basename(CHUNKS)}/[name]-[hash]`,
      // What is imported as it is needed is loaded then and not before.
      splitting: true,
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      // Its whole as one file, without the data that only its main entry looks for beside it.
      alias: { 'css-tree': 'css-tree/dist/csstree.esm' },
      // For packages in the older format, which ask for Node's own modules in their own way.
      banner: {
        js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
      },
      external: Object.keys(dependencies).filter((name) => !BUNDLED.includes(name)),
      sourcemap: 'linked',
      logLevel: 'error',
      tsconfig: 'tsconfig.json',
    });
  }
  packDictionaries();
  const database = path.join(TEMPLATE, 'database');
  if (existsSync(database) && statSync(database).mtimeMs > newest(TEMPLATE_SOURCES)) return;
  // A first start copies it; made from nothing and migrated, a database takes seconds of processor time.
  rmSync(TEMPLATE, { recursive: true, force: true });
  const { status } = spawnSync(process.execPath, ['dist/workers/database-template.js', database], {
    stdio: ['ignore', 2, 2],
    // It is of the embedded database, whatever the one is that Detto will use.
    env: { ...process.env, DATABASE_URL: '' },
  });
  if (status !== 0) throw new Error('The template of the database could not be made; see above.');
  // Who runs Detto may be another user than who built it; databases are made for one user alone.
  spawnSync('chmod', ['-R', 'a+rX', TEMPLATE]);
}
