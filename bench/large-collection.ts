/**
 * `npm run bench -- large-collection`: a collection of 100,000 pictures (or PICTURES) in twice as many appearances on 10,000 pages,
 * and what its lists and one change of words take. Prints medians of seven, in milliseconds.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { GalleyView } from '../src/contract/galley';

const PICTURES = Number(process.env['PICTURES'] ?? 100_000);
const ROUNDS = 7;

const folder = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));
process.env['DETTO_DATA'] = folder;
const { seedLargeCollection } = await import('./support/large-collection-data');
const { countsOf } = await import('../src/server/catalogue/collections');
const { closeDatabase } = await import('../src/server/db/database');
const { galleyFacets } = await import('../src/server/catalogue/facets');
const { galleyLines } = await import('../src/server/catalogue/lines');
const { queueAt } = await import('../src/server/catalogue/views');
const { deskPicture } = await import('../src/server/desk/desk');
const { brief } = await import('../src/server/brief/brief');
const { auditAll } = await import('../src/server/audit/audit-collection');
const { closeAuditor } = await import('../src/server/audit/audit-worker');
const { saveWords } = await import('../src/server/wordings/wordings');

async function median(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[ROUNDS >> 1]!;
}

const print = (what: string, ms: number) => process.stdout.write(`| ${what} | ${ms.toFixed(ms < 10 ? 1 : 0)} ms |\n`);

try {
  const c = await seedLargeCollection(folder, PICTURES);
  const start = performance.now();
  await auditAll(c.id);
  print('audit of everything, kept', performance.now() - start);

  const view = (query: object) => GalleyView.parse(query);
  print('Galley, furthest-reaching first', await median(() => galleyLines(c.id, view({}), 0, 100)));
  print('Galley, from line 90,000 on', await median(() => galleyLines(c.id, view({}), 90_000, 100)));
  print(
    'Galley, unsaid or doubtful, heaviest first',
    await median(() => galleyLines(c.id, view({ state: 'todo', sort: 'weight' }), 0, 100)),
  );
  print('Galley, one rule', await median(() => galleyLines(c.id, view({ rule: 'no-alt' }), 0, 100)));
  print('Galley, a search', await median(() => galleyLines(c.id, view({ q: 'picture-777' }), 0, 100)));
  print('what the choices would show', await median(() => galleyFacets(c.id)));
  print('the spine', await median(() => countsOf(c.id)));
  const { lines } = await galleyLines(c.id, view({ state: 'todo' }), 5000, 1);
  const line = lines[0]!;
  print('Desk, its picture', await median(() => deskPicture(c, line.id, null)));
  print('Desk, its place in the queue', await median(() => queueAt(c.id, view({ state: 'todo' }), line.id)));
  print('Brief', await median(() => brief(c)));
  let n = 0;
  const keep = (text: string) =>
    saveWords({
      collectionId: c.id,
      appearanceIds: [line.appearanceId],
      text,
      act: `act-${n++}-xxxx`,
      by: 'person',
    });
  print('one wording kept, and everything it touches audited', await median(() => keep(`Gulls ${n}`)));
  print('the same, when twenty others say so too', await median(() => keep(`The ferry number ${n + 1}`)));
} finally {
  closeAuditor();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
}
