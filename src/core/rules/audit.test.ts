import { strings } from '@/ui/strings';
import { activeRules, auditAppearance, auditCollection } from './audit';
import { readSource } from '../formats/html/read-page';
import { patchPage } from '../formats/html/patch';
import { withRelated } from '.';
import type { RuleContext } from '../model/rule-context';
import { lengthOf, normalise, wordsKey } from '../words/graphemes';
import { withWords } from '../model/wording';

const contextOf = (html: string): RuleContext => ({
  id: 's',
  page: { path: 'p.html', lang: 'en', title: '', description: null, headings: [], directives: [] },
  picture: null,
  appearance: readSource(html).appearances[0]!,
  purpose: 'informative',
  purposeSettled: false,
  targetTitle: null,
});

test('a rule can be switched off, and its parameters changed', () => {
  const context = contextOf('<img src=a alt="Twenty-six characters long">');
  expect(auditAppearance(context, activeRules())).toEqual([]);
  const strict = activeRules({ overlong: { parameters: { limit: 20 } } });
  expect(strings.message(auditAppearance(context, strict)[0]!.message)).toBe(
    '26 characters, 6 over this collection’s limit of 20.',
  );
  expect(auditAppearance(context, activeRules({ overlong: { off: true, parameters: { limit: 20 } } }))).toEqual([]);
});

test('parameters that a rule does not take fall back to its defaults', () => {
  const active = activeRules({ overlong: { parameters: { limit: 'many' } } });
  expect(active.rules.find((a) => a.rule.id === 'overlong')!.parameters).toEqual({ limit: 100, longDescription: 250 });
});

test('spans are offsets into the text as written', () => {
  const alt = '  Image of the ferry';
  const [finding] = auditAppearance(contextOf(`<img src=a alt="${alt}">`), activeRules());
  expect(alt.slice(finding!.span!.start, finding!.span!.end)).toBe('Image of');
});

/** RULES.md, Precedence: one cause, one finding. */
describe('what several rules find of one cause', () => {
  const rulesAt = (html: string) => auditAppearance(contextOf(html), activeRules()).map((f) => [f.rule, f.also ?? []]);

  test('is one finding, with the others as its evidence', () =>
    expect(rulesAt('<a href=x><img src="map.png"></a>')).toEqual([
      ['no-alt', [{ rule: 'unnamed-control', message: { id: 'unnamed-control.link' } }]],
    ]));

  test('counts by itself where the rule that names the cause is off', () => {
    const context = contextOf('<a href=x><img src="map.png"></a>');
    const found = auditAppearance(context, activeRules({ 'no-alt': { off: true } }));
    expect(found.map((f) => f.rule)).toEqual(['unnamed-control']);
  });

  test('is found at the text itself, and not once more among those that have the same', () => {
    const page = readSource('<img src=a.jpg alt=Photo><img src=b.jpg alt=Photo>').appearances;
    const contexts = page.map((appearance, i) => ({
      ...contextOf('<img src=a>'),
      id: String(i),
      picture: { id: String(i) } as RuleContext['picture'],
      appearance,
    }));
    expect(auditCollection(contexts, activeRules()).map((f) => f.rule)).toEqual(['placeholder', 'placeholder']);
    const off = activeRules({ placeholder: { off: true } });
    expect(auditCollection(contexts, off).map((f) => f.rule)).toContain('same-words');
  });

  test('rules that share causes are checked together', () => {
    expect(withRelated(['same-words'])).toEqual(
      expect.arrayContaining(['placeholder', 'decoration-with-text', 'echo']),
    );
    expect(withRelated(['heavy-file'])).toEqual(['heavy-file']);
  });
});

// What `withWords` foretells has to be what a reader of the patched page gets.
const ELEMENTS = [
  '<img src=a>',
  '<img src=a alt=old title=T>',
  '<img src=a aria-label=old>',
  '<img src=a alt=old role=presentation>',
  '<img src=a role=none>',
  '<a href=x><img src=a></a>',
  '<button><img src=a alt=old></button>',
  '<input type=image src=a>',
  '<img src=m usemap=#m alt=M><map name=m><area href=x></map>',
  '<svg><path/></svg>',
  '<svg role=img aria-label=old></svg>',
  '<div role=img></div>',
];
describe.each(['The new words', ''])('wording %j foretells what the patched page says', (text) => {
  test.each(ELEMENTS)('%s', (html) => {
    const order = readSource(html).appearances.length - 1;
    const foretold = withWords(readSource(html).appearances[order]!, text);
    const patched = patchPage(Buffer.from(html), [{ order, text }]).bytes.toString();
    const read = readSource(patched).appearances[order]!;
    if (read.context.control?.defaultName)
      read.context.control = { ...read.context.control, name: '', defaultName: false };
    if (read.accessible.nameSource === 'default') read.accessible.name = '';
    const told = ({ state, accessible: { name, ignored }, context: { control } }: typeof read) => ({
      ...{ state, name, ignored, control },
    });
    expect(told(foretold)).toEqual(told(read));
  });
});

// Unicode UAX 29: one user-perceived character each (flag, family, combining marks, Devanagari kshi).
test.each([
  ['🇩🇪', 1],
  ['👨‍👩‍👧', 1],
  ['é', 1],
  ['a  b\n', 3],
  ['', 0],
  ['漢字', 2],
])('%j is %d graphemes long', (text, length) => expect(lengthOf(text)).toBe(length));

test('white space is normalised, and texts are compared without case or closing stop', () => {
  expect(normalise('\u00a0 Two\n puffins ')).toBe('Two puffins');
  expect(wordsKey('Two  Puffins.')).toBe(wordsKey('two puffins'));
});
