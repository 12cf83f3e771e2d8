import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq } from 'drizzle-orm';
import { DOT } from '../testing/site';
import { unzip } from '../testing/unzip';

/** A delivery from its start to its end: what is worked out once, what goes on after a stop, and the way into a folder and back. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-deliveries-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const site = path.join(folder, 'site');

const { insertCollection } = await import('../catalogue/collections');
const { closeDatabase, database } = await import('../db/database');
const { appearance, deliveredDocument, page, preparedDocument } = await import('../db/schema');
const { delivered, downloaded, previewed } = await import('../testing/delivery');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { saveWords } = await import('../wordings/wordings');
const { deliveriesOf, deliveryById, resumeDelivery, startDelivery, stopDelivery } = await import('./deliveries');
const { leaveOut } = await import('./leave-out');
const { performDelivery } = await import('./perform-delivery');
const { planDelivery } = await import('./plan');
const { deliverySums } = await import('./preview');
const { undoDelivery, verifyDelivery } = await import('./undo-delivery');

const COUNT = 12;
const nameOf = (i: number) => `page-${String(i).padStart(2, '0')}.html`;
const htmlOf = (i: number) => `<html lang="en"><title>Page ${i}</title><p>Text ${i} <img src="dot.gif"> here.`;
let c: Awaited<ReturnType<typeof insertCollection>>;
const survey = async () => surveyOver(await startSurvey(c.id));
const placeOn = async (name: string) => {
  const [row] = await (
    await database()
  )
    .select({ id: appearance.id })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.collectionId, c.id), eq(page.path, name), eq(appearance.gone, false)));
  return row!.id;
};
const word = async (name: string, text: string) =>
  saveWords({ collectionId: c.id, appearanceIds: [await placeOn(name)], text, act: `${name} ${text}`, by: 'person' });
/** Does everything that waits in the background. */
async function allJobs(): Promise<void> {
  startJobs();
  await jobsIdle();
  await stopJobs();
}
const following = (signal = new AbortController().signal, report: (share: number) => void = () => undefined) => ({
  signal,
  report,
});

beforeAll(async () => {
  mkdirSync(site, { recursive: true });
  for (let i = 0; i < COUNT; i++) writeFileSync(path.join(site, nameOf(i)), htmlOf(i));
  writeFileSync(path.join(site, 'dot.gif'), DOT);
  c = await insertCollection({ name: 'Isle', kind: 'folder', root: site, maxPages: 100, maxDepth: 3 });
  startJobs();
  await survey();
  await stopJobs();
  for (let i = 0; i < COUNT; i++) await word(nameOf(i), `The quay ${i}`);
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('what was worked out is not worked out again; a change concerns its own document', async () => {
  expect(await planDelivery(c)).toEqual({ due: COUNT, hasGone: false });
  expect(await previewed(c)).toHaveLength(COUNT);
  expect(await planDelivery(c)).toEqual({ due: 0, hasGone: false });
  await word(nameOf(3), 'The quay at noon');
  expect((await planDelivery(c)).due).toBe(1);
  const at = await placeOn(nameOf(5));
  await leaveOut(c.id, [at], true, 'out');
  expect((await planDelivery(c)).due).toBe(2);
  expect((await previewed(c))[5]).toMatchObject({ changes: [], aside: [{ appearanceId: at }] });
  expect(await deliverySums(c.id)).toMatchObject({
    documents: COUNT,
    changes: COUNT - 1,
    changed: COUNT - 1,
    aside: 1,
  });
  await leaveOut(c.id, [at], false, 'in');
  // An old comparison is made again without writing anything.
  await previewed(c);
  const files = () => readdirSync(path.join(folder, 'data', 'prepared', c.id)).sort();
  const before = files();
  expect(before).toHaveLength(COUNT);
  expect((await planDelivery(c, 0)).due).toBe(COUNT);
  await previewed(c);
  expect(files()).toEqual(before);
});

test('the previews of many documents come in parts, in the order of their paths', async () => {
  expect((await previewed(c)).map((p) => p.path)).toEqual(Array.from({ length: COUNT }, (_, i) => nameOf(i)));
});

test('a download that is stopped leaves nothing behind, and goes on from the beginning when it is resumed', async () => {
  const id = await startDelivery(c, 'zip', {});
  const stop = new AbortController();
  await performDelivery(
    c.id,
    id,
    following(stop.signal, (share) => share > 0.85 && stop.abort('stopped')),
  );
  expect(await deliveryById(c.id, id)).toMatchObject({ state: 'stopped', file: null, pages: 0, canUndo: false });
  expect(readdirSync(path.join(folder, 'data', 'deliveries', String(id)))).toEqual([]);
  await resumeDelivery(c.id, id);
  await performDelivery(c.id, id, following());
  expect(await deliveryById(c.id, id)).toMatchObject({ state: 'done', pages: COUNT, total: COUNT });
  expect([...(await unzip((await downloaded(c, 'zip')).bytes)).keys()]).toHaveLength(COUNT);
});

test('one that waits is stopped at once; the process that ends in the middle goes on at the next start', async () => {
  const id = await startDelivery(c, 'zip', {});
  await stopDelivery(c.id, id);
  expect((await deliveryById(c.id, id)).state).toBe('stopped');
  await resumeDelivery(c.id, id);
  const end = new AbortController();
  await performDelivery(
    c.id,
    id,
    following(end.signal, (share) => share > 0.85 && end.abort('suspended')),
  );
  expect((await deliveryById(c.id, id)).state).toBe('running');
  await performDelivery(c.id, id, following());
  expect((await deliveryById(c.id, id)).state).toBe('done');
});

test('what was prepared and is gone fails the delivery in words, and is made again at the next try', async () => {
  await previewed(c);
  rmSync(path.join(folder, 'data', 'prepared', c.id), { recursive: true });
  const id = await startDelivery(c, 'zip', {});
  await performDelivery(c.id, id, following());
  expect(await deliveryById(c.id, id)).toMatchObject({ state: 'failed', reason: { id: 'delivery.prepared-gone' } });
  await (
    await database()
  )
    .update(preparedDocument)
    .set({ due: 'write' })
    .where(eq(preparedDocument.collectionId, c.id));
  await resumeDelivery(c.id, id);
  await performDelivery(c.id, id, following());
  expect((await deliveryById(c.id, id)).state).toBe('done');
});

test('only the latest downloads are kept', async () => {
  for (let i = 0; i < 4; i++) await delivered(c, 'zip');
  const kept = (await deliveriesOf(c.id)).map((d) => d.file !== null);
  expect(kept.slice(0, 5)).toEqual([true, true, true, false, false]);
});

test('a folder: what is taken stays taken when it is stopped, refusals stop no other, undo gives back every byte', async () => {
  writeFileSync(path.join(site, nameOf(2)), 'theirs');
  // The comparison still holds, so the folder itself has to notice.
  await planDelivery(c);
  const id = await startDelivery(c, 'folder', { folder: site });
  const stop = new AbortController();
  let shares = 0;
  await performDelivery(
    c.id,
    id,
    following(stop.signal, (share) => share > 0.8 && ++shares === 6 && stop.abort('stopped')),
  );
  expect(await deliveryById(c.id, id)).toMatchObject({ state: 'stopped', pages: 5, canUndo: true });
  await resumeDelivery(c.id, id);
  await performDelivery(c.id, id, following());
  const receipts = await (
    await database()
  )
    .select()
    .from(deliveredDocument)
    .where(eq(deliveredDocument.deliveryId, id));
  expect(receipts.filter((r) => r.state === 'written')).toHaveLength(COUNT - 1);
  const done = await deliveryById(c.id, id);
  expect(done).toMatchObject({
    ...{ state: 'done', pages: COUNT - 1, folder: site },
    refused: { count: 1, first: [{ path: nameOf(2), reason: { id: 'target.changed' } }] },
  });
  expect(readFileSync(path.join(site, nameOf(1)), 'utf8')).toBe(
    htmlOf(1).replace('src="dot.gif"', 'src="dot.gif" alt="The quay 1"'),
  );
  expect((await verifyDelivery(c.id, id)).counts).toEqual({ 'as-written': COUNT - 1, different: 0, gone: 0 });
  writeFileSync(path.join(site, nameOf(4)), 'theirs too');
  // Not while the survey that follows reads the folder.
  await expect(undoDelivery(c, id)).rejects.toMatchObject({ reason: { id: 'delivery.survey-runs' } });
  await allJobs();
  await undoDelivery(c, id);
  for (let i = 0; i < COUNT; i++)
    expect(readFileSync(path.join(site, nameOf(i)), 'utf8')).toBe({ 2: 'theirs', 4: 'theirs too' }[i] ?? htmlOf(i));
  expect(await deliveryById(c.id, id)).toMatchObject({ state: 'undone', canUndo: false });
  await expect(undoDelivery(c, id)).rejects.toMatchObject({ reason: { id: 'delivery.no-undo' } });
});

test('what is in the folder that was surveyed is found there, and waits no longer', async () => {
  writeFileSync(path.join(site, nameOf(2)), htmlOf(2));
  writeFileSync(path.join(site, nameOf(4)), htmlOf(4));
  await allJobs();
  await delivered(c, 'folder', { folder: site });
  await allJobs();
  expect(await previewed(c)).toEqual([]);
  // Taken back, they wait again, and are nobody else's change; what was written since stays.
  await word(nameOf(7), 'Written since');
  await undoDelivery(c, (await deliveriesOf(c.id))[0]!.id);
  await allJobs();
  const waiting = await previewed(c);
  expect(waiting.map((p) => [p.path, p.changes[0]?.heard, p.conflicts.length])).toEqual(
    Array.from({ length: COUNT }, (_, i) => [
      nameOf(i),
      { 3: 'The quay at noon', 7: 'Written since' }[i] ?? `The quay ${i}`,
      0,
    ]),
  );
});

test('what belongs to no collection any more is removed at the next start; copies of what was replaced stay', async () => {
  const { removeCollection } = await import('../catalogue/collections');
  const gone = await insertCollection({ name: 'Gone', kind: 'folder', root: site, maxPages: 100, maxDepth: 3 });
  const [download, inFolder] = [await startDelivery(gone, 'zip', {}), await startDelivery(gone, 'zip', {})];
  const deliveries = path.join(folder, 'data', 'deliveries');
  const at = (id: number, ...names: string[]) => path.join(deliveries, String(id), ...names);
  for (const id of [download, inFolder])
    mkdirSync(at(id, ...(id === inFolder ? ['backup-2026'] : [])), { recursive: true });
  writeFileSync(at(download, 'pages.zip'), 'x');
  mkdirSync(path.join(folder, 'data', 'prepared', gone.id), { recursive: true });
  await removeCollection(gone.id);
  await allJobs();
  expect(readdirSync(deliveries)).toContain(String(inFolder));
  expect(readdirSync(deliveries)).not.toContain(String(download));
  expect(readdirSync(path.join(folder, 'data', 'prepared'))).not.toContain(gone.id);
});

test('what is not there is said, not guessed', async () => {
  for (const id of [0, -1, 1.5, 2 ** 40, Number.NaN])
    await expect(deliveryById(c.id, id)).rejects.toMatchObject({ reason: { id: 'delivery.unknown' }, status: 404 });
  await expect(startDelivery(c, 'folder', { folder: '' })).rejects.toThrow('Give the whole path');
});
