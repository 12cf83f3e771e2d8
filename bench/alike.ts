/**
 * `npm run bench -- alike FOLDER…`: how well pictures that are the same but for encoding, size, a narrow crop or colour are
 * found, among pictures that are not; and how long 100,000 pictures take to group.
 *
 * Each FOLDER holds pictures of which no two are the same (photos and drawings of Debian packages, docs/pictures.md).
 */
import { readFileSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { bitsApart, groupSimilar, meanDifference, type Comparable } from '../src/core/picture/similarity';
import { fingerprintOf } from '../src/core/picture/fingerprint';
import { viewOf } from '../src/server/analysis/picture-view';
import { numbers } from './kinds/drawn';

const MOST = Number(process.env['PICTURES'] ?? 150);
const CHANGES: Record<string, (bytes: Buffer, width: number, height: number) => Promise<Buffer>> = {
  'half the size': (b, w) =>
    sharp(b)
      .resize({ width: Math.max(16, Math.round(w / 2)) })
      .png()
      .toBuffer(),
  'a quarter, JPEG 80': (b, w) =>
    sharp(b)
      .flatten({ background: '#fff' })
      .resize({ width: Math.max(16, Math.round(w / 4)) })
      .jpeg({ quality: 80 })
      .toBuffer(),
  'JPEG 50': (b) => sharp(b).flatten({ background: '#fff' }).jpeg({ quality: 50 }).toBuffer(),
  'JPEG 20': (b) => sharp(b).flatten({ background: '#fff' }).jpeg({ quality: 20 }).toBuffer(),
  'WebP 60': (b) => sharp(b).webp({ quality: 60 }).toBuffer(),
  'AVIF 45': (b) => sharp(b).avif({ quality: 45, effort: 0 }).toBuffer(),
  'cropped by 5 %': (b, w, h) =>
    sharp(b)
      .extract({
        left: Math.round(w * 0.025),
        top: Math.round(h * 0.025),
        width: Math.max(1, Math.round(w * 0.95)),
        height: Math.max(1, Math.round(h * 0.95)),
      })
      .png()
      .toBuffer(),
  'in grey': (b) => sharp(b).greyscale().png().toBuffer(),
};

function* filesOf(dir: string): Generator<string> {
  if (statSync(dir).isFile()) return void (yield dir);
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const file = path.join(dir, entry.name);
    if (entry.isDirectory()) yield* filesOf(file);
    else if (/\.(?:jpe?g|png|webp|avif)$/i.test(file)) yield file;
  }
}

const measured = async (id: number, bytes: Buffer): Promise<Comparable> => {
  const { width, height } = await sharp(bytes).metadata();
  return { id, width, height, stem: null, taken: null, ...fingerprintOf(await viewOf(bytes)) };
};

const originals: Comparable[] = [];
const copies: { of: number; change: string; it: Comparable }[] = [];
const files = new Map<number, string>();
let next = 1_000_000;
for (const folder of process.argv.slice(2)) {
  // Packages keep one drawing in several folders.
  const all = [...new Map([...filesOf(folder)].map((f) => [path.basename(f), f])).values()].sort();
  const step = Math.max(1, all.length / MOST);
  for (let i = 0; i < Math.min(MOST, all.length); i++) {
    try {
      const { data, info } = await sharp(readFileSync(all[Math.floor(i * step)]!))
        .autoOrient()
        .resize(1000, 1000, { fit: 'inside', withoutEnlargement: true })
        .png({ compressionLevel: 1 })
        .toBuffer({ resolveWithObject: true });
      const id = originals.length + 1;
      const it = await measured(id, data);
      if (!it.tells) continue;
      for (const [change, make] of Object.entries(CHANGES))
        copies.push({ of: id, change, it: await measured(next++, await make(data, info.width, info.height)) });
      originals.push(it);
      files.set(id, all[Math.floor(i * step)]!);
    } catch {
      // What the library cannot read is no part of the measurement.
    }
  }
}
process.stdout.write(`${originals.length} pictures, ${copies.length} changed copies\n\n`);

const bytesOf = (hex: string) => Uint8Array.from(Buffer.from(hex, 'hex'));
const at = (list: number[], share: number) => [...list].sort((a, b) => a - b)[Math.floor(share * (list.length - 1))]!;
process.stdout.write(
  '| change | waves (median, 95 %) | blocks | fields | same family | same series |\n| --- | --- | --- | --- | --- | --- |\n',
);
for (const change of Object.keys(CHANGES)) {
  const own = copies.filter((c) => c.change === change);
  const pairs = own.map((c) => ({ a: originals.find((o) => o.id === c.of)!, b: c.it }));
  let [duplicateGroup, similarGroup] = [0, 0];
  for (const { a, b } of pairs) {
    const groups = groupSimilar([a, b]);
    if (groups.get(a.id)!.duplicateGroup !== null) duplicateGroup++;
    if (groups.get(a.id)!.similarGroup !== null) similarGroup++;
  }
  const spread = (list: number[]) => `${Math.round(at(list, 0.5))}, ${Math.round(at(list, 0.95))}`;
  const percent = (n: number) => `${Math.round((100 * n) / pairs.length)} %`;
  process.stdout.write(
    `| ${change} | ${spread(pairs.map(({ a, b }) => bitsApart(a.waves, b.waves)))} | ${spread(pairs.map(({ a, b }) => bitsApart(a.blocks, b.blocks)))} | ${spread(pairs.map(({ a, b }) => meanDifference(bytesOf(a.fields), bytesOf(b.fields))))} | ${percent(duplicateGroup)} | ${percent(similarGroup)} |\n`,
  );
}
const groups = groupSimilar(originals);
const of = (key: 'duplicateGroup' | 'similarGroup') => originals.filter((o) => groups.get(o.id)![key] !== null).length;
process.stdout.write(
  `\nOf ${originals.length} different pictures, ${of('duplicateGroup')} were taken for the same as another, ${of('similarGroup')} for look-alikes.\n`,
);
if (process.env['SHOW'])
  for (const o of originals)
    if (groups.get(o.id)!.similarGroup !== null)
      process.stdout.write(`${files.get(o.id)} ${JSON.stringify(groups.get(o.id))}\n`);

const random = numbers(3);
const hex = (digits: number) => Array.from({ length: digits }, () => Math.floor(random() * 16).toString(16)).join('');
const many: Comparable[] = Array.from({ length: 100_000 }, (_, i) => {
  const like = i % 10 === 9 ? originals[i % originals.length] : null;
  return like
    ? { ...like, id: i }
    : {
        id: i,
        width: 800,
        height: 600,
        stem: null,
        taken: null,
        tells: true,
        waves: hex(16),
        blocks: hex(16),
        fields: hex(96),
      };
});
const before = performance.now();
groupSimilar(many);
process.stdout.write(`100,000 pictures grouped in ${((performance.now() - before) / 1000).toFixed(1)} s\n`);
