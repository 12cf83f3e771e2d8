/**
 * `npm run bench -- kinds tune FOLDER` grows the forest that tells kinds of pictures apart and writes it into the core;
 * `npm run bench -- kinds report FOLDER` measures it on pictures of other packages.
 *
 * FOLDER holds the packages that kinds/sources.json names, unpacked, one folder each (`npm:` ones in node_modules).
 */
import { readFileSync, readdirSync, writeFileSync, existsSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { featuresOf, FEATURES, type Features } from '../src/core/picture/features';
import { kindOf } from '../src/core/picture/kind';
import { KINDS, SURE, type Kind } from '../src/core/model/picture-analysis';
import { pictureType, svgSize } from '../src/core/picture/signatures';
import { viewOf } from '../src/server/analysis/picture-view';
import { numbers, posters, separators } from './kinds/drawn';
import { grow, type Sample } from './kinds/grow';

interface Source {
  part: 'tune' | 'report';
  kind: Kind;
  package: string;
  match: string;
  not?: string;
  most: number;
  /** Cuts of each picture that are learnt from as well. */
  crops: number;
}
interface Measured {
  kind: Kind;
  from: string;
  file: string;
  features: Features;
}

const MODEL = 'src/core/picture/kinds.json';
const [part, folder] = process.argv.slice(2) as ['tune' | 'report', string];
if (!['tune', 'report'].includes(part) || !folder || !existsSync(folder)) {
  process.stderr.write('Say what to do, and where the packages are: kinds tune|report FOLDER\n');
  process.exit(2);
}
const sources = (JSON.parse(readFileSync('bench/kinds/sources.json', 'utf8')) as Source[]).filter(
  (s) => s.part === part,
);

function* filesOf(dir: string): Generator<string> {
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const file = path.join(dir, entry.name);
    if (entry.isDirectory()) yield* filesOf(file);
    else if (entry.isFile()) yield file;
  }
}

async function measure(bytes: Buffer): Promise<Features | null> {
  const type = pictureType(bytes);
  if (!type) return null;
  try {
    const view = await viewOf(bytes);
    const { width, height } =
      (type === 'image/svg+xml' && svgSize(bytes.toString('utf8'))) || (await sharp(bytes).metadata());
    return featuresOf(view, { width, height, type });
  } catch {
    return null;
  }
}

const random = numbers(77);

/** A cut of between half and all of each side. */
async function cut(bytes: Buffer): Promise<Buffer | null> {
  try {
    const upright = await sharp(bytes)
      .autoOrient()
      .resize({ width: 1400, height: 1400, fit: 'inside', withoutEnlargement: true })
      .toBuffer({ resolveWithObject: true });
    const { width, height } = upright.info;
    const w = Math.max(1, Math.floor(width * (0.4 + 0.6 * random())));
    const h = Math.max(1, Math.floor(height * (0.4 + 0.6 * random())));
    return await sharp(upright.data)
      .extract({
        left: Math.floor(random() * (width - w)),
        top: Math.floor(random() * (height - h)),
        width: w,
        height: h,
      })
      .resize({ width: 200 + Math.floor(random() * 900) })
      .toFormat(random() < 0.6 ? 'jpeg' : 'png')
      .toBuffer();
  } catch {
    return null;
  }
}

const measured: Measured[] = [];
for (const source of sources) {
  const dir = source.package.startsWith('npm:')
    ? path.join(folder, 'node_modules', source.package.slice(4))
    : path.join(folder, source.package);
  if (!existsSync(dir)) {
    process.stdout.write(`${source.package} is not there\n`);
    continue;
  }
  const fits = new RegExp(source.match, 'i');
  const misses = source.not ? new RegExp(source.not, 'i') : null;
  const all = [...filesOf(dir)].filter((f) => fits.test(f) && !misses?.test(f)).sort();
  const step = Math.max(1, all.length / source.most);
  const chosen = Array.from({ length: Math.min(all.length, source.most) }, (_, i) => all[Math.floor(i * step)]!);
  let n = 0;
  for (const file of chosen) {
    const bytes = readFileSync(file);
    const all: Buffer[] = [bytes];
    for (let i = 1; i < source.crops; i++) all.push((await cut(bytes)) ?? bytes);
    for (const one of all) {
      const features = await measure(one);
      if (features) measured.push({ kind: source.kind, from: source.package, file, features });
      if (features) n++;
    }
  }
  process.stdout.write(`${source.kind}: ${n} of ${source.package}\n`);
}
for (const [kind, drawn] of [
  ['poster', await posters(part, part === 'tune' ? 160 : 40)],
  ['separator', await separators(part, part === 'tune' ? 120 : 40)],
] as const)
  for (const bytes of drawn) {
    const features = await measure(bytes);
    if (features) measured.push({ kind, from: 'drawn', file: 'drawn', features });
  }

if (part === 'tune') {
  const samples: Sample[] = measured.map((m) => ({
    values: FEATURES.map((f) => m.features[f]),
    label: KINDS.indexOf(m.kind),
  }));
  const forest = grow(samples, KINDS, FEATURES);
  writeFileSync(MODEL, `${JSON.stringify(forest)}\n`);
  process.stdout.write(`${forest.trees.length} trees of ${samples.length} pictures in ${MODEL}\n`);
} else {
  const judged = measured.map((m) => ({ ...m, said: kindOf(m.features) }));
  const row = (name: string, of: typeof judged) => {
    const right = (list: typeof judged) => list.filter((j) => j.said.kind === j.kind).length;
    const sure = of.filter((j) => j.said.sure >= SURE);
    const wrong = new Map<string, number>();
    for (const j of of) if (j.said.kind !== j.kind) wrong.set(j.said.kind, (wrong.get(j.said.kind) ?? 0) + 1);
    const percent = (a: number, b: number) => (b === 0 ? '–' : `${Math.round((100 * a) / b)} %`);
    const taken = [...wrong]
      .sort((a, b) => b[1] - a[1])
      .map(([k, n]) => `${k} ${n}`)
      .join(', ');
    process.stdout.write(
      `| ${name} | ${of.length} | ${percent(right(of), of.length)} | ${percent(sure.length, of.length)} | ${percent(right(sure), sure.length)} | ${taken} |\n`,
    );
  };
  process.stdout.write(
    '| kind | pictures | right | sure | right where sure | taken for |\n| --- | --- | --- | --- | --- | --- |\n',
  );
  for (const kind of KINDS)
    row(
      kind,
      judged.filter((j) => j.kind === kind),
    );
  row('all', judged);
  row(
    'of packages',
    judged.filter((j) => j.from !== 'drawn'),
  );
  const photo = judged.filter((j) => (j.said.kind === 'photo') === (j.kind === 'photo')).length;
  process.stdout.write(`photo or not: ${Math.round((100 * photo) / judged.length)} %\n`);
  if (process.env['SHOW'])
    for (const j of judged)
      if (j.said.kind !== j.kind)
        process.stdout.write(`${j.kind} as ${j.said.kind} ${j.said.sure.toFixed(2)} ${j.file}\n`);
}
