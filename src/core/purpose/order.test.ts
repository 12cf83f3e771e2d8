import { strings } from '@/ui/strings';
import { readSource } from '../formats/html/read-page';
import { NOT_ANALYSED, type PictureAnalysis } from '../model/picture-analysis';
import { answersFor } from './answers';
import { FIRST_QUESTION, QUESTIONS, walk } from './decision-tree';
import { urgencyOf, type WorkFacts } from './order';
import { proposePurpose } from './propose';

const facts = (more: Partial<WorkFacts>): WorkFacts => ({
  reach: 1,
  missing: 0,
  missingFunctional: 0,
  worst: null,
  fileFails: false,
  region: 'main',
  area: 10_000,
  similarCount: 0,
  similarRank: 0,
  ...more,
});
const urgency = (more: Partial<WorkFacts>) => urgencyOf(facts(more)).urgency;

test('what is done comes last', () => expect(urgencyOf(facts({}))).toEqual({ urgency: 0, reason: null }));

test.each<[string, Partial<WorkFacts>, Partial<WorkFacts>]>([
  ['a link that says nothing, before a picture that does', { missing: 1, missingFunctional: 1 }, { missing: 1 }],
  ['unsaid, before doubtful', { missing: 1 }, { worst: 'cantTell' }],
  ['failing, before doubtful', { worst: 'failed' }, { worst: 'cantTell' }],
  ['doubtful, before what can be polished', { worst: 'cantTell' }, { worst: 'advice' }],
  ['far-reaching, before single', { missing: 1, reach: 40 }, { missing: 1 }],
  ['main content, before the footer', { missing: 1 }, { missing: 1, region: 'footer' }],
  ['large, before small', { missing: 1, area: 300_000 }, { missing: 1, area: 900 }],
  [
    'the best of a series, before the others',
    { missing: 1, similarCount: 40, similarRank: 5 },
    { missing: 1, similarCount: 40, similarRank: 6 },
  ],
])('%s', (_, first, then) => expect(urgency(first)).toBeGreaterThan(urgency(then)));

test('each place in the order has its reason', () => {
  const reason = (some: Parameters<typeof facts>[0]) => strings.message(urgencyOf(facts(some)).reason!);
  expect(reason({ missing: 3, reach: 12, area: 200_000 })).toBe('no alt text, on 12 pages, main content, large');
  // What is large at the top of a page is its frame.
  expect(reason({ missing: 1, area: 200_000, region: 'header' })).toBe(
    'no alt text, on one page, at the top of the page',
  );
  expect(reason({ worst: 'failed', similarCount: 40, similarRank: 9, region: null })).toBe(
    'failing alt text, on one page, one of 40 that look alike, to be adapted from their best',
  );
});

const context = (html: string, seen: Partial<PictureAnalysis> | null) => {
  const appearance = readSource(`<!doctype html><body><main>${html}</main>`).appearances[0]!;
  const picture = { width: 400, height: 300, analysis: seen && { ...NOT_ANALYSED, ...seen } };
  return { appearance, picture, ...proposePurpose(appearance, picture) };
};

// The W3C WAI Images Tutorial's kinds, told by what is in the picture (from memory).
test.each<[string, Partial<PictureAnalysis>, string]>([
  [
    '<img src=a alt="Our sale">',
    { kind: 'poster', sure: 0.9, text: 'Half price until Sunday', textShare: 0.3 },
    'image of text',
  ],
  ['<img src=a alt="Sailings">', { kind: 'chart', sure: 0.9, text: '' }, 'complex'],
  ['<img src=a alt="Sailings">', { kind: 'chart', sure: 0.4, text: '' }, 'informative'],
  ['<img src=a alt="Waves">', { kind: 'separator', sure: 0.9, text: '' }, 'decorative'],
  [
    '<img src=a alt="The ferry">',
    { kind: 'photo', sure: 0.9, text: 'BELLE LERWICK 12', textShare: 0.2 },
    'informative',
  ],
  [
    '<a href=/sale><img src=a alt="Sale"></a>',
    { kind: 'poster', sure: 0.9, text: 'Half price', textShare: 0.3 },
    'functional',
  ],
])('%s with %j is %s', (html, seen, purpose) => expect(context(html, seen).purpose).toBe(purpose));

test('evidence against silence makes the proposal doubtful', () => {
  const { purpose, sure, evidence } = context('<img src=a alt="">', { kind: 'chart', sure: 0.9, text: '' });
  expect([purpose, sure < 0.6]).toEqual(['complex', true]);
  expect(evidence.map(strings.message)).toEqual(['it is a chart', 'though its alt text is empty']);
});

test('every way through the questions ends at a purpose, after at most four', () => {
  const ways = (given: Partial<Record<keyof typeof QUESTIONS, string>>): void => {
    const { asked, purpose } = walk(given, {});
    expect(asked.length).toBeLessThanOrEqual(4);
    if (purpose !== null) return;
    const open = asked.at(-1)!;
    for (const { answer } of QUESTIONS[open].answers) ways({ ...given, [open]: answer });
  };
  ways({});
});

test('the evidence answers what it can, and a person may answer otherwise', () => {
  const poster = context('<img src=a alt="Our sale">', {
    kind: 'poster',
    sure: 0.9,
    text: 'Half price until Sunday',
    textShare: 0.3,
  });
  const known = answersFor(poster as never);
  expect(walk({}, known)).toEqual({ asked: ['control', 'text', 'text twice'], purpose: 'image of text' });
  expect(walk({ 'text twice': 'yes' }, known).purpose).toBe('decorative');
  expect(walk({ control: 'yes' }, known)).toEqual({ asked: [FIRST_QUESTION], purpose: 'functional' });
  const beside = context('<p>Half price until Sunday</p><img src=a alt="Our sale">', {
    kind: 'poster',
    sure: 0.9,
    text: 'Half price until Sunday',
    textShare: 0.3,
  });
  expect(walk({}, answersFor(beside as never)).purpose).toBe('decorative');
  const unknown = context('<img src=a alt="The ferry">', null);
  expect(walk({}, answersFor(unknown as never))).toEqual({ asked: ['control', 'text'], purpose: null });
});

test('a broken file comes after everything that words can settle', () => {
  const broken = urgencyOf(facts({ fileFails: true, reach: 9 }));
  expect(broken.urgency).toBeGreaterThan(0);
  expect(broken.urgency).toBeLessThan(urgency({ worst: 'cantTell', reach: 9 }));
  expect(strings.message(broken.reason!)).toContain('failing file');
  expect(urgency({ fileFails: true, missing: 1 })).toBe(urgency({ missing: 1 }));
});

test('words that say themselves that there is nothing to say make a picture decorative', () => {
  const proposal = proposePurpose(readSource('<p>Text</p><img src=w.svg alt="divider">').appearances[0]!, null);
  expect(proposal).toMatchObject({ purpose: 'decorative', sure: 0.9 });
  const described = readSource('<img src=w.svg alt="Decorative plasterwork on the ceiling">').appearances[0]!;
  expect(proposePurpose(described, null).purpose).toBe('informative');
});
