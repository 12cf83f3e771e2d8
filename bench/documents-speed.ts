/**
 * `npm run bench -- documents-speed`: a text document of 300 pages and 200 pictures read and written, a presentation of 100
 * MB with its pictures taken out in a thread, and many documents one after the other with the memory that they leave.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { documentsFolder } from '../demo/documents';
import { picturesFolder } from '../demo/art/render';
import { formatById, formatOfName } from '@/core/formats';
import { inline, paragraph, slidesOf, text, wordOf } from '@/core/formats/testing/packages';
import { ReaderPool } from '@/server/workers/reader-pool';
import { readdirSync, readFileSync } from 'node:fs';

const RUNS = 7;
const SENTENCE = 'The ferry leaves at ten and is back before the tide turns at the harbour of the northern island. ';
const median = (times: number[]) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
const megabytes = () => Math.round(process.memoryUsage().rss / 1_048_576);
const say = (line: string) => process.stdout.write(`${line}\n`);

async function timed(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < RUNS; i++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return Math.round(median(times));
}

// Some 40 lines of 90 letters a page.
const page = paragraph(text('Harbour'), 'berschrift1') + paragraph(text(SENTENCE.repeat(9))).repeat(4);
const body = Array.from(
  { length: 300 },
  (_, i) => page + (i < 200 ? paragraph(inline(`<wp:docPr id="${i + 1}" name="P"/>`)) : ''),
).join('');
const book = await wordOf(body);
const docx = formatById('docx');
const edits = Array.from({ length: 200 }, (_, order) => ({ fragment: null, order, text: `Picture ${order}` }));
say(
  `DOCX, 300 pages, 200 pictures, ${Math.round(body.length / 1024)} KB of XML: read in ${await timed(() => docx.read(book))} ms, written in ${await timed(() => docx.write(book, edits))} ms`,
);

const pictures: Record<string, Buffer> = {};
const trees = Array.from({ length: 50 }, (_, i) => {
  // Bytes that do not pack.
  let seed = i + 1;
  const file = Buffer.alloc(2 * 1_048_576);
  for (let k = 0; k < file.length; k += 4)
    file.writeUInt32LE((seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0), k);
  pictures[`ppt/media/big${i}.png`] = file;
  pictures[`ppt/slides/_rels/slide${i + 1}.xml.rels`] = Buffer.from(
    `<Relationships><Relationship Id="rId1" Type="x/image" Target="../media/big${i}.png"/></Relationships>`,
  );
  return '<p:pic><p:nvPicPr><p:cNvPr id="2" name="P"/></p:nvPicPr><p:blipFill><a:blip r:embed="rId1"/></p:blipFill></p:pic>';
});
const folder = mkdtempSync(path.join(tmpdir(), 'detto-bench-documents-'));
writeFileSync(path.join(folder, 'big.pptx'), await slidesOf(trees, pictures));
for (const name of Object.keys(pictures)) delete pictures[name];
global.gc?.();
const idle = megabytes();
const pool = new ReaderPool(1);
const file = readFileSync(path.join(folder, 'big.pptx'));
const shared = Buffer.from(new SharedArrayBuffer(file.length));
file.copy(shared);
let most = 0;
const watch = setInterval(() => (most = Math.max(most, megabytes())), 20);
const start = performance.now();
const reading = await pool.document(shared, 'pptx', 'big.pptx');
let count = 0;
for (const p of reading.pages)
  for (const a of p.reading.appearances) {
    await pool.held(shared, 'pptx', a.markup.src!);
    count++;
  }
clearInterval(watch);
say(
  `PPTX of ${Math.round(file.length / 1_048_576)} MB, ${count} pictures taken out in ${Math.round(performance.now() - start)} ms; memory ${idle} MB before, ${most} MB at most`,
);

const made = await documentsFolder(await picturesFolder(path.resolve('dist/demo-pictures')), path.join(folder, 'made'));
const names = readdirSync(made).filter((n) => formatOfName(n) !== null);
const sizes: number[] = [];
for (let i = 0; i < 1_000; i++) {
  const name = names[i % names.length]!;
  await pool.document(readFileSync(path.join(made, name)), formatOfName(name)!, name);
  if (i % 100 === 99) {
    global.gc?.();
    sizes.push(megabytes());
  }
}
say(`1,000 mixed documents: memory after each hundred, MB: ${sizes.join(' ')}`);
pool.close();
rmSync(folder, { recursive: true, force: true });
