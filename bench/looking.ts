/**
 * `npm run bench -- looking FOLDER…`: what looking at a picture costs beside a bare decode of it by the same library, and
 * what reading text and things in it costs, in one run.
 *
 * Looking is what the looker does in its process: view, thumbnail, colours, features and kind, hashes, metadata. Copies of
 * heavy files are encoded for another purpose and are counted apart.
 */
import { readFileSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { coloursOf } from '../src/core/picture/colours';
import { featuresOf } from '../src/core/picture/features';
import { kindOf } from '../src/core/picture/kind';
import { fingerprintOf } from '../src/core/picture/fingerprint';
import { pictureType } from '../src/core/picture/signatures';
import { Recogniser } from '../src/server/workers/reader-pool';
import { thumbOf, viewOf } from '../src/server/analysis/picture-view';

const MOST = Number(process.env['PICTURES'] ?? 60);
const ROUNDS = 3;
sharp.concurrency(1);
sharp.cache(false);

function* filesOf(dir: string): Generator<string> {
  if (statSync(dir).isFile()) return void (yield dir);
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const file = path.join(dir, entry.name);
    if (entry.isDirectory()) yield* filesOf(file);
    else if (/\.(?:jpe?g|png|webp|avif|gif)$/i.test(file)) yield file;
  }
}
const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!;

async function look(bytes: Buffer, type: string): Promise<void> {
  const view = await viewOf(bytes);
  const { autoOrient, pages: frames = 1 } = await sharp(bytes).metadata();
  const features = featuresOf(view, { ...autoOrient, type });
  await thumbOf({ view, bytes, type, ...autoOrient, frames, clear: features.clear + features.halfClear > 0 });
  coloursOf(view.data.subarray(0, 4096));
  kindOf(features);
  fingerprintOf(view);
}
const timed = async (work: () => Promise<unknown>) => {
  const from = performance.now();
  await work();
  return performance.now() - from;
};

process.stdout.write(
  '| folder | pictures | bare decode | looking | ratio of sums | text | text and things |\n| --- | --- | --- | --- | --- | --- | --- |\n',
);
const total = { bare: 0, analysisVersion: 0, pictures: 0 };
for (const folder of process.argv.slice(2)) {
  const all = [...filesOf(folder)].sort();
  const step = Math.max(1, all.length / MOST);
  const chosen = Array.from({ length: Math.min(MOST, all.length) }, (_, i) => readFileSync(all[Math.floor(i * step)]!));
  const bare: number[] = [];
  const analysisVersion: number[] = [];
  const text: number[] = [];
  const both: number[] = [];
  // A looker looks at many: what it compiles for the first ones is no part of the cost.
  for (const bytes of chosen.slice(0, 20)) await look(bytes, pictureType(bytes)!).catch(() => undefined);
  for (const bytes of chosen) {
    const decode = () => sharp(bytes, { failOn: 'none' }).raw().toBuffer();
    try {
      bare.push(median(await inRounds(() => timed(decode))));
      analysisVersion.push(median(await inRounds(() => timed(() => look(bytes, pictureType(bytes)!)))));
    } catch {
      bare.length = analysisVersion.length = Math.min(bare.length, analysisVersion.length);
    }
  }
  const recogniser = new Recogniser();
  for (const bytes of chosen.slice(0, 12)) {
    try {
      const task = { bytes, languages: ['en'], photo: true };
      text.push(await timed(() => recogniser.recognise({ ...task, things: false })));
      both.push(await timed(() => recogniser.recognise({ ...task, things: true })));
    } catch {
      text.length = both.length = Math.min(text.length, both.length);
    }
  }
  recogniser.close();
  const sum = (list: number[]) => list.reduce((s, v) => s + v, 0);
  total.bare += sum(bare);
  total.analysisVersion += sum(analysisVersion);
  total.pictures += analysisVersion.length;
  const ms = (list: number[]) => `${median(list).toFixed(1)} ms`;
  process.stdout.write(
    `| ${path.basename(folder)} | ${analysisVersion.length} | ${ms(bare)} | ${ms(analysisVersion)} | ${(sum(analysisVersion) / sum(bare)).toFixed(2)} | ${ms(text)} | ${ms(both)} |\n`,
  );
}
process.stdout.write(`| all | ${total.pictures} | | | ${(total.analysisVersion / total.bare).toFixed(2)} | | |\n`);

async function inRounds(work: () => Promise<number>): Promise<number[]> {
  const out: number[] = [];
  for (let i = 0; i < ROUNDS; i++) out.push(await work());
  return out;
}
