import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { DECORATIVE, type ListRow } from '@/core/lists/list-table';
import { gif } from '@/server/testing/site';
import { readArguments, UsageError } from './arguments';
import { list, putBack } from './list';

/** `detto list`: the pictures of a folder as a table, and the texts of such a table back into its pages. */
const root = mkdtempSync(path.join(tmpdir(), 'detto-cli-list-'));
const PAGE =
  '<html lang="en"><title>Boats</title><img src=boat.gif><img src="boat.gif">\n<a href="b.html"><img src="key.gif" alt="Keys"></a><figure><img src="key.gif" alt="Key"><figcaption>Fig. 2</figcaption></figure>';
beforeAll(() => {
  mkdirSync(path.join(root, 'site'));
  writeFileSync(path.join(root, 'site', 'boat.gif'), gif(200, 100));
  writeFileSync(path.join(root, 'site', 'key.gif'), gif(100, 200));
  writeFileSync(path.join(root, 'site', 'index.html'), PAGE);
  writeFileSync(path.join(root, 'site', 'b.html'), '<html lang="en"><title>B</title><p>No pictures</p>');
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

async function call(...args: string[]) {
  const asked = readArguments(['list', 'site', ...args]);
  if (asked.command !== 'list') throw new Error('no list');
  return asked.list.from === undefined
    ? list(asked.options, asked.list, root, () => undefined)
    : putBack(asked.options, asked.list, root, () => undefined);
}
const rows = async (...args: string[]) =>
  JSON.parse(Buffer.from((await call('--format', 'json', ...args)) as Uint8Array).toString()) as ListRow[];

test('a row is a picture or an appearance, only those that are asked for', async () => {
  expect((await rows()).map((r) => [r.picture, r.uses, r.state])).toEqual([
    ['boat.gif', 1, 'Missing'],
    ['key.gif', 1, 'Has alt text'],
  ]);
  const all = await rows('--by', 'appearance');
  expect(all.map((r) => [r.line, r.picture, r.alt, r.caption])).toEqual([
    [1, 'boat.gif', '', ''],
    [1, 'boat.gif', '', ''],
    [2, 'key.gif', 'Keys', ''],
    [2, 'key.gif', 'Key', 'Fig. 2'],
  ]);
  expect(all[0]!.findings).toMatch(/^Fails: There is no alt attribute/);
  expect(await rows('--by', 'appearance', '--only', 'missing')).toHaveLength(2);
});

test('it goes into a file where one is named', async () => {
  expect(await call('--format', 'csv', '--out', 'list.csv')).toBeNull();
  expect(readFileSync(path.join(root, 'list.csv'), 'utf8')).toMatch(/^\ufeffAppearance,Page,/);
});

test('new texts come back into the pages that change, every other byte as it was', async () => {
  const edited = await rows('--by', 'appearance');
  edited[1]!.newAlt = 'A boat';
  edited[2]!.newAlt = DECORATIVE;
  edited[3]!.newAlt = 'A brass key';
  edited.push({ ...edited[0]!, picture: 'gone.gif', newAlt: 'X' });
  writeFileSync(path.join(root, 'edited.json'), JSON.stringify(edited));
  const { text, isWhole } = (await call('--from', 'edited.json', '--out', 'changed')) as {
    text: string;
    isWhole: boolean;
  };
  expect(isWhole).toBe(false);
  expect(text.split('\n')).toEqual([
    'Row 3 is left out: the picture is the only name of a link or button, so it cannot be decorative.',
    'Row 5 is left out: there is no such appearance in this collection.',
    '2 texts changed on 1 page; the pages are in changed.',
  ]);
  expect(readFileSync(path.join(root, 'changed', 'index.html'), 'utf8')).toBe(
    PAGE.replace('<img src="boat.gif">', '<img src="boat.gif" alt="A boat">').replace('alt="Key"', 'alt="A brass key"'),
  );
  expect(existsSync(path.join(root, 'changed', 'b.html'))).toBe(false);
  expect(readFileSync(path.join(root, 'site', 'index.html'), 'utf8')).toBe(PAGE);
});

test('a text that has changed since the table was made is left alone', async () => {
  const [first] = await rows('--only', 'described');
  writeFileSync(path.join(root, 'old.json'), JSON.stringify([{ ...first, alt: 'An older text', newAlt: 'Y' }]));
  const { text } = (await call('--from', 'old.json', '--out', 'none')) as { text: string };
  expect(text).toBe(
    'Row 1 is left out: its text has changed since the table was made.\nNothing in this table would change.',
  );
});

test.each([
  [['list'], /Missing required argument 'target'\./],
  [['list', 'a', 'b'], /^Too many arguments for 'list'/],
  [['list', 'a', '--json'], /Unknown option '--json'/],
  [['audit', 'a', '--only', 'missing'], /Unknown option '--only'/],
  [['audit', 'a', '--max-pages', '0'], /A whole number from 1 to 100000 is wanted\./],
  [['audit', 'a', '--max-pages', '9'], /^--max-pages is for an address, and “a” is none\.$/],
  [['list', 'a', '--from', 't.csv', '--out', 'x', '--only', 'missing'], /cannot be used with option '--only/],
  [['draft', 'a', '--consent', 'h'], /^--consent is for a --service/],
  [['survey', 'a'], /Unknown command 'survey'\./],
  [[], /^Say what to do: audit/],
  [['list', 'a', '--format', 'pdf'], /--format/],
  [['list', 'a', '--only', 'good'], /--only/],
  [['list', 'a', '--from', 't.csv'], /--out/],
])('%j is refused in words', (args, says) => {
  expect(() => readArguments(args)).toThrow(UsageError);
  expect(() => readArguments(args)).toThrow(says);
});
