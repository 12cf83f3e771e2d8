import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { GalleyView } from '@/contract/galley';
import type { UserError } from '@/core/model/user-error';
import { strings } from '@/ui/strings';
import { listWords } from '@/ui/strings/lists';
import { gif } from '../testing/site';
import { unzip } from '../testing/unzip';

/**
 * Lists of a view: exported, read by programs that are not ours (Debian's python3-openpyxl, and the csv and json modules
 * of Python), edited, and read back; and acts on very many places.
 */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-lists-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, picture } = await import('../db/schema');
const { keepFiles, sha256Of } = await import('../blobs/blobs');
const { closeReaders } = await import('../workers/reader-pool');
const { insertCollection } = await import('../catalogue/collections');
const { galleyLines } = await import('../catalogue/lines');
const { facetChoices, queueAt } = await import('../catalogue/views');
const { deleteView, savedViews, saveView } = await import('../catalogue/saved-views');
const { bulkState, performBulk, startBulk } = await import('../bulk/bulk');
const { previewBulk } = await import('../bulk/plan');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { undoAct } = await import('../wordings/acts');
const { listRows } = await import('./list-rows');
const { COLUMNS, DECORATIVE } = await import('@/core/lists/list-table');
const { readList } = await import('@/core/lists/read-list');
const { writeList } = await import('./write-list');
const { previewList, saveList } = await import('./import-list');

const PICTURE = gif(300, 200);
let id: string;
beforeAll(async () => {
  const root = path.join(folder, 'site');
  for (const part of ['', 'news', 'shop']) mkdirSync(path.join(root, part), { recursive: true });
  writeFileSync(path.join(root, 'dot.gif'), PICTURE);
  writeFileSync(path.join(root, 'other.gif'), gif(300, 201));
  const put = (file: string, body: string, lang = 'en') =>
    writeFileSync(path.join(root, file), `<html lang="${lang}"><title>${file}</title>${body}`);
  put('index.html', '<p>Text</p><img src="dot.gif" alt="=1+1"><a href="shop/b.html"><img src="other.gif"></a>');
  put('news/a.html', '<img src="../dot.gif" alt="A ferry, “red”"><img src="../other.gif" width="40">');
  put(
    'shop/b.html',
    '<figure><img src="../dot.gif" title="Boat" alt="The ferry"><figcaption>Fig. 1</figcaption></figure>',
    'de',
  );
  startJobs(['survey', 'audit', 'recheck', 'bulk']);
  id = (await insertCollection({ name: 'Lists', kind: 'folder', root, maxPages: 9, maxDepth: 9 })).id;
  await surveyOver(await startSurvey(id));
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  closeReaders();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

const view = (more: object = {}) => GalleyView.parse(more);
const all = { kind: 'view' as const, view: view(), except: [] };
const list = (by: 'picture' | 'appearance', format: 'csv' | 'xlsx' | 'json', more: object = {}) =>
  writeList(listRows(id, view(more), by, listWords, format === 'xlsx'), format, listWords);
const rowsOf = async (by: 'picture' | 'appearance', more: object = {}) =>
  JSON.parse(Buffer.from(await list(by, 'json', more)).toString()) as Record<string, unknown>[];
const said = async () => {
  const rows = await (await database()).select().from(appearance).orderBy(appearance.id);
  return rows.map((r) => r.words);
};
const python = (code: string, file: string) =>
  JSON.parse(execFileSync('/usr/bin/python3', ['-c', code, file], { encoding: 'utf8' })) as string[][];

describe('a list', () => {
  test('has a row for each picture, or for each appearance with its page, line, texts and findings', async () => {
    expect((await rowsOf('picture')).map((r) => [r['picture'], r['uses']])).toEqual([
      ['dot.gif', 3],
      ['other.gif', 2],
    ]);
    const rows = await rowsOf('appearance');
    expect(rows.map((r) => r['page'])).toEqual([
      'index.html',
      'index.html',
      'news/a.html',
      'news/a.html',
      'shop/b.html',
    ]);
    expect(rows[4]).toMatchObject({
      ...{ picture: 'dot.gif', state: 'Has alt text', alt: 'The ferry', newAlt: '', title: 'Boat', caption: 'Fig. 1' },
      ...{ purpose: 'Informative', uses: 3, bytes: PICTURE.length, line: 1, pageTitle: 'shop/b.html' },
    });
    expect(rows[1]!['findings']).toMatch(/^Fails: There is no alt attribute/);
    expect(await rowsOf('appearance', { state: 'missing' })).toHaveLength(2);
  });

  test('is read by Python’s csv module, formulas as texts', async () => {
    const file = path.join(folder, 'list.csv');
    writeFileSync(file, await list('appearance', 'csv'));
    const rows = python(
      'import csv,json,sys;print(json.dumps(list(csv.reader(open(sys.argv[1],encoding="utf-8-sig",newline="")))))',
      file,
    );
    expect(rows[0]).toEqual(COLUMNS.map(([, name]) => name));
    expect(rows.map((r) => r[6]).slice(1, 4)).toEqual(["'=1+1", '', 'A ferry, “red”']);
  });

  test('is read by openpyxl, and no cell is a formula', async () => {
    const file = path.join(folder, 'list.xlsx');
    writeFileSync(file, await list('appearance', 'xlsx'));
    const code =
      'import json,sys,openpyxl;s=openpyxl.load_workbook(sys.argv[1]).active;print(json.dumps([[[c.value,c.data_type] for c in r] for r in s.iter_rows()]))';
    const rows = python(code, file) as unknown as [unknown, string][][];
    const head = rows[0]!.map(([name]) => name);
    expect(rows[1]![head.indexOf('Alt text')]).toEqual(["'=1+1", 's']);
    expect(rows.flat().some(([, type]) => type === 'f')).toBe(false);
    expect(rows[5]![head.indexOf('Uses')]).toEqual([3, 'n']);
  });

  test.each(['csv', 'xlsx'] as const)('comes back as %s with what Python has filled in', async (format) => {
    const file = path.join(folder, `edited.${format}`);
    writeFileSync(file, await list('appearance', format));
    // As an editor does it: columns moved, one added, formulas left alone.
    const edit =
      format === 'csv'
        ? `import csv,json,sys
rows=list(csv.reader(open(sys.argv[1],encoding="utf-8-sig",newline="")))
at=rows[0].index("New alt text")
for i,r in enumerate(rows): r.insert(0,"note" if i==0 else str(i))
rows[1][at+1]="'=SUM of dots"; rows[2][at+1]="The shop"; rows[3][at+1]="A red ferry"; rows[5][at+1]="${DECORATIVE}"
csv.writer(open(sys.argv[1],"w",encoding="utf-8",newline=""),delimiter=";").writerows(rows)
print("[]")`
        : `import json,sys,openpyxl
w=openpyxl.load_workbook(sys.argv[1]); s=w.active; at=[c.value for c in s[1]].index("New alt text")+1
for r,t in ((2,"'=SUM of dots"),(3,"The shop"),(4,"A red ferry"),(6,"${DECORATIVE}")): s.cell(r,at).value=t
w.save(sys.argv[1]); print("[]")`;
    python(edit, file);
    const { readFileSync } = await import('node:fs');
    const rows = await readList(readFileSync(file));
    const preview = await previewList(id, rows);
    expect(preview).toMatchObject({ total: 4, conflicts: 0, same: 1, unknownTotal: 0 });
    expect(preview.changes.map((c) => [c.before, c.after])).toEqual([
      ['=1+1', '=SUM of dots'],
      [null, 'The shop'],
      ['A ferry, “red”', 'A red ferry'],
      ['The ferry', ''],
    ]);
    const before = await said();
    const leave = new Set([preview.changes[2]!.row]);
    expect(await saveList(id, rows.rows, `act-list-${format}`, new Set(), leave, null)).toMatchObject({
      state: 'done',
      places: 3,
    });
    expect((await said()).filter((w) => w !== null).sort()).toEqual(['', '=SUM of dots', 'The shop']);
    await undoAct(id, `act-list-${format}`);
    expect(await said()).toEqual(before);
  });

  test('without ids it is matched by page and picture; what cannot be matched is said, row by row', async () => {
    const rows = await readList(
      Buffer.from(
        'Page,Picture,New alt text\nnews/a.html,dot.gif,Ferry\nnews/a.html,gone.gif,X\n,,Y\nindex.html,other.gif,(decorative)\n',
      ),
    );
    const preview = await previewList(id, rows);
    expect(preview.changes.map((c) => [c.page, c.after])).toEqual([['news/a.html', 'Ferry']]);
    expect(preview.unknown).toEqual([
      { row: 3, why: 'not-found' },
      { row: 4, why: 'no-key' },
      { row: 5, why: 'names-control' },
    ]);
  });

  test('where the text has changed here since the list was made, only what is asked for is changed', async () => {
    const [first] = await rowsOf('appearance');
    const edited = [{ ...first, alt: 'An older text', newAlt: 'From the list' }];
    const rows = await readList(Buffer.from(JSON.stringify(edited)));
    const preview = await previewList(id, rows);
    expect(preview).toMatchObject({ total: 0, conflicts: 1 });
    expect(preview.changes[0]).toMatchObject({ before: '=1+1', madeWith: 'An older text', after: 'From the list' });
    expect(await saveList(id, rows.rows, 'act-list-none', new Set(), new Set(), null)).toMatchObject({ places: 0 });
    expect(await saveList(id, rows.rows, 'act-list-take', new Set([1]), new Set(), null)).toMatchObject({ places: 1 });
    await undoAct(id, 'act-list-take');
  });

  test.each([
    ['a,b\n1,2\n', 'list.no-new-texts'],
    ['[{"alt": "x"}]', 'list.no-new-texts'],
    ['[{', 'list.json'],
    ['PK\u0003\u0004nothing', 'list.damaged'],
    ['\u00d0\u00cf\u0011\u00e0\u00a1\u00b1\u001a\u00e1', 'list.old-workbook'],
    ['Page,New alt text\na,"open\nb,c\n', 'list.open-quote'],
  ])('%j is refused in words', async (text, id) => {
    const error = await readList(Buffer.from(text, 'latin1')).catch((e: unknown) => e);
    expect(error).toMatchObject({ reason: { id } });
    expect(strings.message((error as UserError).reason)).not.toBe(id);
  });

  test('a row for a picture is for every place that says what it shows, and names the others', async () => {
    const rows = await rowsOf('picture');
    expect(rows.map((r) => [r['picture'], r['places']])).toEqual([
      ['dot.gif', 1],
      ['other.gif', 2],
    ]);
    const { rows: edited } = await readList(
      Buffer.from(
        JSON.stringify(rows.map((r) => ({ ...r, newAlt: r['picture'] === 'other.gif' ? 'A quay' : 'A boat' }))),
      ),
    );
    const preview = await previewList(id, { rows: edited, encoding: null });
    expect(preview).toMatchObject({ total: 2, places: 3 });
    const change = preview.changes.find((c) => c.picture === 'dot.gif')!;
    expect(change.others.map((o) => [o.text, o.places]).sort()).toEqual([
      ['A ferry, “red”', 1],
      ['The ferry', 1],
    ]);
    await saveList(id, edited, 'act-list-pictures', new Set(), new Set(), null);
    expect((await said()).filter((w) => w === 'A quay')).toHaveLength(2);
    // Sent once more, it is done once.
    expect(await saveList(id, edited, 'act-list-pictures', new Set(), new Set(), null)).toMatchObject({
      state: 'done',
    });
    await undoAct(id, 'act-list-pictures');
  });

  test('texts written into the column “Alt text” are noticed, and taken where that is wanted; older ones are not', async () => {
    const rows = (await rowsOf('appearance')).map((r, i) => (i === 0 ? { ...r, alt: 'A red ferry' } : r));
    const bytes = Buffer.from(JSON.stringify(rows));
    expect(await previewList(id, await readList(bytes))).toMatchObject({ total: 0, editedInAlt: 1 });
    const taken = await previewList(id, await readList(bytes, { isAltNew: true }));
    expect(taken.changes.map((c) => [c.before, c.after])).toEqual([['=1+1', 'A red ferry']]);
    // A text that stood there before the newest is no edit of the table's.
    const { rows: newer } = await readList(Buffer.from(JSON.stringify([{ ...rows[1], newAlt: 'Newer' }])));
    await saveList(id, newer, 'act-list-newer', new Set(), new Set(), null);
    const older = [{ ...(await rowsOf('appearance'))[2], alt: 'A ferry, “red”', newAlt: '' }];
    expect(await previewList(id, await readList(Buffer.from(JSON.stringify(older))))).toMatchObject({ editedInAlt: 0 });
    await undoAct(id, 'act-list-newer');
  });

  test('two rows for one place are refused where they differ, and are one where they agree', async () => {
    const rows = async (...texts: string[]) =>
      readList(Buffer.from(`Page,Picture,New alt text\n${texts.map((t) => `news/a.html,dot.gif,${t}\n`).join('')}`));
    const differ = await previewList(id, await rows('One', 'Two'));
    expect(differ.total).toBe(0);
    expect(differ.unknown).toEqual([2, 3].map((row) => ({ row, why: 'twice' })));
    expect(await previewList(id, await rows('One', 'One'))).toMatchObject({ total: 1, same: 1, unknownTotal: 0 });
  });

  test('a workbook has pictures in its rows, a head that stays, a filter, and one column to write in', async () => {
    const bytes = gif(64, 48);
    const db = await database();
    await db.transaction((tx) => keepFiles(tx, new Map([[sha256Of(bytes), bytes]])));
    await db.update(picture).set({ thumb: sha256Of(bytes) });
    const file = path.join(folder, 'work.xlsx');
    writeFileSync(file, await list('picture', 'xlsx'));
    const code = `import json,sys,openpyxl
w=openpyxl.load_workbook(sys.argv[1]); s=w.worksheets[0]; head=[c.value for c in s[1]]
new=s.cell(2,head.index("New alt text")+1); alt=s.cell(2,head.index("Alt text")+1)
print(json.dumps([s.freeze_panes,s.auto_filter.ref,s.protection.sheet,new.protection.locked,alt.protection.locked,new.fill.fgColor.rgb,new.alignment.wrap_text,s.column_dimensions["E"].width>30,[x.title for x in w.worksheets]]))`;
    expect(python(code, file)).toEqual([
      ...['B2', 'A1:S3', true, false, true, 'FFFFF6D6', true, true],
      ['Alt texts', 'How to use this'],
    ]);
    const shown = [...(await unzip(await readFile(file))).keys()].filter((name) => /^xl\/media\/.+\.jpe?g$/.test(name));
    expect(shown).toHaveLength(2);
  });
});

describe('facets', () => {
  const counts = async (facet: Parameters<typeof facetChoices>[2], more: object = {}) =>
    Object.fromEntries((await facetChoices(id, view(more), facet)).map((c) => [c.value, c.pictures]));

  test('count what each choice would show beside all the others', async () => {
    expect(await counts('section')).toEqual({ '': 2, news: 2, shop: 1 });
    expect(await counts('section', { section: 'shop', state: 'missing' })).toEqual({ '': 1, news: 1 });
    expect(await counts('language')).toEqual({ en: 2, de: 1 });
    expect(await counts('format')).toEqual({ gif: 2 });
    expect(await counts('purpose')).toEqual({ informative: 2, functional: 1 });
    expect(await counts('writer')).toEqual({ page: 1, nobody: 1 });
    expect(await counts('uses')).toMatchObject({ '1': 0, '2-9': 2 });
    expect(await counts('weight')).toMatchObject({ 'under-10k': 2, 'over-100k': 0 });
    expect(await counts('shown')).toMatchObject({ '32-200': 1 });
    expect(await counts('since')).toEqual({ new: 2, changed: 2 });
    expect((await counts('rule'))['no-alt']).toBe(1);
    expect((await counts('state'))['missing']).toBe(1);
    const pages = await facetChoices(id, view(), 'page', 'news');
    expect(pages).toEqual([{ value: expect.any(String), label: 'news/a.html', pictures: 2 }]);
    const { lines } = await galleyLines(id, view({ page: pages[0]!.value, group: 'page' }), 0, 9);
    expect(lines.map((l) => [l.group!.label, l.isPlace])).toEqual([
      ['news/a.html', true],
      ['news/a.html', true],
    ]);
  });

  test('grouped, every appearance stands once under its page or its place in the template', async () => {
    const groups = async (group: string) =>
      (await galleyLines(id, view({ group }), 0, 50)).lines.map((l) => l.group!.key);
    for (const group of ['page', 'place']) {
      const keys = await groups(group);
      expect(keys).toHaveLength(5);
      // Those of one group stand together.
      expect(keys.filter((k, i) => k !== keys[i - 1])).toHaveLength(new Set(keys).size);
    }
    expect(await groups('alike')).toHaveLength(2);
    expect(
      (await queueAt(id, view({ group: 'alike' }), (await galleyLines(id, view(), 0, 1)).lines[0]!.id)).ids,
    ).toHaveLength(2);
  });

  test('views are saved under a name, replaced, and deleted', async () => {
    const { id: first } = await saveView(id, 'Mine', 'state=missing');
    expect(await saveView(id, 'Mine', 'rule=no-alt')).toEqual({ id: first, name: 'Mine', query: 'rule=no-alt' });
    expect(await savedViews(id)).toHaveLength(1);
    expect(await deleteView('elsewhere', first)).toBe(false);
    expect([await deleteView(id, first), await savedViews(id)]).toEqual([true, []]);
  });
});

describe('an act on many places', () => {
  test('says first what it would do and leave out, and does just that', async () => {
    const preview = await previewBulk(id, all, { kind: 'decorative' });
    expect(preview).toMatchObject({ pictures: 2, places: 4, replaced: 3 });
    expect(preview.leftOut).toEqual([{ why: 'names-control', places: 1 }]);
    expect(await startBulk(id, all, { kind: 'decorative' }, 'bulk-decorative')).toMatchObject({
      state: 'done',
      places: 4,
    });
    expect((await said()).filter((w) => w === '')).toHaveLength(4);
    expect(await previewBulk(id, all, { kind: 'decorative' })).toMatchObject({ places: 0 });
    await undoAct(id, 'bulk-decorative');
    expect((await said()).every((w) => w === null)).toBe(true);
  });

  test('finds and replaces, every change shown first; a text can be left out', async () => {
    const work = {
      kind: 'replace' as const,
      find: 'ferry',
      put: 'boat',
      matchCase: false,
      wholeWords: true,
      except: [],
    };
    const { changes, texts } = await previewBulk(id, all, work);
    expect([texts, changes.map((c) => [c.before, c.after, c.places]).sort()]).toEqual([
      2,
      [
        ['A ferry, “red”', 'A boat, “red”', 1],
        ['The ferry', 'The boat', 1],
      ],
    ]);
    await startBulk(id, all, { ...work, except: ['The ferry'] }, 'bulk-replace');
    expect((await said()).filter((w) => w !== null)).toEqual(['A boat, “red”']);
    // A process that ended before it noted how far it was does not do it twice.
    await performBulk(id, 'bulk-replace');
    expect((await said()).filter((w) => w !== null)).toEqual(['A boat, “red”']);
    await undoAct(id, 'bulk-replace');
  });

  test.each([
    [{ kind: 'words', text: 'One text' }, 5],
    [{ kind: 'purpose', purpose: 'complex' }, 5],
    [{ kind: 'ignore', rule: 'no-alt', reason: 'Later', by: 'Ann' }, 2],
    [{ kind: 'accept' }, 0],
  ] as const)('%j is done in as many places as it said', async (work, places) => {
    expect((await previewBulk(id, all, work)).places).toBe(places);
    const act = `bulk-${work.kind}`;
    const state = await startBulk(id, all, work, act);
    expect(state).toMatchObject({ state: 'done', total: places });
    expect(await bulkState(id, act)).toEqual(state);
    await undoAct(id, act);
  });

  test('lines that were taken out of the selection are left alone', async () => {
    const [first] = (await galleyLines(id, view(), 0, 1)).lines;
    const target = { ...all, except: [first!.id] };
    expect((await previewBulk(id, target, { kind: 'purpose', purpose: 'complex' })).pictures).toBe(1);
  });
});
