import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq, sql } from 'drizzle-orm';
import { strings } from '@/ui/strings';
import type { Message } from '@/core/model/message';
import { knowledge } from '../language/dictionaries';
import type { Collection } from '../catalogue/collections';
import { DOT } from '../testing/site';

/** The audit of the database in windows, and after a change only where it touches, against the core's of everything at once. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-audit-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const { insertCollection } = await import('../catalogue/collections');
const { closeDatabase, database } = await import('../db/database');
const { appearance, finding, picture } = await import('../db/schema');
const { startSurvey } = await import('../survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { saveWords } = await import('../wordings/wordings');
const { undoAct } = await import('../wordings/acts');
const { auditAll } = await import('./audit-collection');
const { ruleContexts } = await import('./rule-contexts');
const { activeRules, auditCollection } = await import('@/core/rules/audit');

const WORDS = ['', 'Boat', 'boat', 'The quay at dawn', 'image', 'img_0001.jpg', 'Picture of a gull', 'spacer', 'Boat '];
let c: Collection;

beforeAll(async () => {
  const root = path.join(folder, 'site');
  mkdirSync(root);
  for (let n = 0; n < 12; n++)
    writeFileSync(path.join(root, `p${n}.gif`), Buffer.concat([DOT, Buffer.from(String(n))]));
  // Every picture with several words, every words on several pictures; by a fixed rule.
  for (let page = 0; page < 20; page++) {
    const images = Array.from({ length: 9 }, (_, i) => {
      const alt = WORDS[(page * 5 + i * 7) % WORDS.length]!;
      const described = (page + i) % 6 === 0 ? '' : ` alt="${alt}"`;
      return `<a href="${i}.html"><img src="p${(page * 3 + i) % 12}.gif"${described}></a> ${alt}`;
    });
    writeFileSync(path.join(root, `${page}.html`), `<html lang="en"><title>${page}</title><body>${images.join('\n')}`);
  }
  c = await insertCollection({ name: 'Audited', kind: 'folder', root, maxPages: 100, maxDepth: 1 });
  // What analysis learns of the pictures would change findings between two readings.
  startJobs(['survey', 'audit']);
  await startSurvey(c.id);
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true });
});

const sorted = (findings: { rule: string; context: string; outcome: string; message: Message }[]) =>
  findings.map((f) => `${f.context} ${f.rule} ${f.outcome} ${strings.message(f.message)}`).sort();

async function kept(): Promise<string[]> {
  const db = await database();
  const rows = await db.select().from(finding).where(eq(finding.collectionId, c.id));
  return sorted(rows.map((r) => ({ ...r, context: String(r.appearanceId) })));
}

async function ofCore(): Promise<string[]> {
  const contexts = await ruleContexts(await database(), eq(appearance.collectionId, c.id));
  return sorted(auditCollection(contexts, activeRules({}, knowledge())));
}

test('counts that stay as they are write no row of a picture again', async () => {
  const db = await database();
  // The transaction that wrote a row last (PostgreSQL, 5.6 System columns).
  const writtenBy = () =>
    db
      .select({ id: picture.id, by: sql<string>`picture.xmin::text` })
      .from(picture)
      .orderBy(picture.id);
  const before = await writtenBy();
  await db.update(picture).set({ reach: 99 }).where(eq(picture.id, before[0]!.id));
  await auditAll(c.id);
  const after = await writtenBy();
  expect(after.slice(1)).toEqual(before.slice(1));
  expect(after[0]).not.toEqual(before[0]);
  const [first] = await db.select({ reach: picture.reach }).from(picture).where(eq(picture.id, before[0]!.id));
  expect(first!.reach).toBeLessThan(99);
});

test('a survey leaves exactly what the core finds in everything', async () => {
  const wanted = await ofCore();
  expect(wanted.length).toBeGreaterThan(100);
  expect(new Set(wanted.map((w) => w.split(' ')[1])).size).toBeGreaterThan(5);
  expect(await kept()).toEqual(wanted);
});

test.each([1, 7, 50])('windows of %d appearances find the same', async (window) => {
  await auditAll(c.id, { window });
  expect(await kept()).toEqual(await ofCore());
});

test('after words are kept, undone, and kept everywhere, what is touched is as if everything had been audited', async () => {
  const db = await database();
  const all = await db
    .select({ id: appearance.id })
    .from(appearance)
    .where(eq(appearance.collectionId, c.id))
    .orderBy(appearance.id);
  const ids = all.map(({ id }) => id);
  const keep = (appearanceIds: number[], text: string | null, act: string) =>
    saveWords({ collectionId: c.id, appearanceIds, text, act, by: 'person' });
  const steps = [
    () => keep([ids[3]!], 'The quay at dawn', 'act-one-1'),
    () => keep(ids.slice(10, 60), 'Boat', 'act-two-2'),
    () => keep([ids[12]!], '', 'act-three'),
    () => undoAct(c.id, 'act-two-2'),
    () => keep([ids[3]!], null, 'act-four4'),
    // Words that two have, then one alone, then nobody.
    () => keep([ids[3]!, ids[4]!], 'Two gulls on the mole', 'act-five5'),
    () => keep([ids[4]!], 'A gull on the mole', 'act-six-6'),
    () => keep([ids[3]!], 'A gull on the mole', 'act-seven'),
    () => keep([ids[3]!, ids[4]!], null, 'act-eight'),
  ];
  for (const step of steps) {
    await step();
    expect(await kept()).toEqual(await ofCore());
  }
});

test('what lists are sorted by is counted from the appearances', async () => {
  const db = await database();
  const contexts = await ruleContexts(db, eq(appearance.collectionId, c.id));
  for (const row of await db.select().from(picture).where(eq(picture.collectionId, c.id))) {
    const own = contexts.filter((s) => s.pictureId === row.id);
    const described = (state: string) => own.filter((s) => s.appearance.state === state).length;
    expect([row.appearances, row.reach, row.described, row.decorative, row.missing]).toEqual([
      own.length,
      new Set(own.map((s) => s.page.path)).size,
      described('described'),
      described('decorative'),
      described('missing'),
    ]);
  }
});
