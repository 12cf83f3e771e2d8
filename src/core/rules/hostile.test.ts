import { RULES } from '.';
import { knowledge } from '../../server/language/dictionaries';
import { activeRules, auditGroup, auditAppearance, wordsGroup } from './audit';
import { readSource } from '../formats/html/read-page';
import { proposePurpose } from '../purpose/propose';
import { cut, MOST_READ, readable } from './support/readable';
import type { Rule, SetRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';

/** Milliseconds that a rule may take with 100 kB of anything. */
const LIMIT = 200;
const LENGTH = 100_000;

const times = (text: string) => text.repeat(Math.ceil(LENGTH / text.length)).slice(0, LENGTH);
const HOSTILE = {
  'a run of one letter': times('a'),
  'hyphens and underscores': times('a-_'),
  entities: times('&amp'),
  'tags that never end': times('<b '),
  'nested brackets': times('('),
  braces: times('{{'),
  ideographs: times('漢'),
  'combining marks': times('e\u0301\u0302'),
  commas: times('sea, '),
  bars: times('ferry | '),
  'one word again': times('seal '),
  'different words': Array.from({ length: 12_000 }, (_, i) => `w${i.toString(36)}`).join(' '),
  'digits and stops': times('1.'),
  'white space': times(' \t'),
  'a word after white space': `${times(' ')}x`,
  'TeX commands': times('\\frac{a}_{'),
  dollars: times('$x_'),
  parameters: times('a=1, '),
  quotes: times('"\''),
  emoji: times('👩‍👩‍👧'),
  'bidi controls': times('\u202e'),
  'halves of pairs': times('\ud83d'),
  'file names': times('img_0001.jpg '),
  addresses: times('http://a.b/'),
};

function contextWith(text: string): RuleContext {
  const quoted = text.replaceAll('&', '&amp;').replaceAll('"', '&quot;');
  const recognition = text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
  const [appearance] = readSource(
    `<!doctype html><body><h2>${recognition}</h2><figure><a href="x.html"><img src="a.jpg" alt="${quoted}" title="${quoted}">${recognition}</a><figcaption>${recognition}</figcaption></figure>`,
  ).appearances;
  return {
    id: '1',
    page: { path: 'a.html', lang: 'en', title: text, description: text, headings: [text], directives: [] },
    picture: null,
    appearance: appearance!,
    purpose: proposePurpose(appearance!, null).purpose,
    purposeSettled: true,
    targetTitle: text,
  };
}

/** Milliseconds of processor time of the shortest of some runs, which other processes do not lengthen. */
function shortest(work: () => void): number {
  let least = Infinity;
  for (let i = 0; i < 5 && least > LIMIT; i++) {
    const begun = process.cpuUsage();
    work();
    const { user, system } = process.cpuUsage(begun);
    least = Math.min(least, (user + system) / 1000);
  }
  return least;
}

const know = knowledge();
/** Dictionaries are opened before time counts. */
beforeAll(() => void auditAppearance(contextWith('A seal on a rokc'), activeRules({}, know)));

test.each(Object.entries(HOSTILE))('no rule takes long over 100 kB of %s, or throws', (_, text) => {
  const context = contextWith(text);
  const group = [context, { ...context, id: '2' }, contextWith('A seal')];
  const failed: unknown[] = [];
  const slow = RULES.filter((rule: Rule) => {
    const active = activeRules({}, know, [rule], (id, error) => failed.push(id, error));
    const work =
      rule.scope === 'appearance'
        ? () => auditAppearance(context, active)
        : () => auditGroup((rule as SetRule<unknown>).scope, group, active);
    return shortest(work) > LIMIT;
  });
  expect(slow.map((rule) => rule.id)).toEqual([]);
  expect(failed).toEqual([]);
  expect(shortest(() => wordsGroup(context))).toBeLessThan(LIMIT);
});

test('a rule that throws costs its own finding only, and is named', () => {
  const failed: string[] = [];
  const broken: Rule = {
    ...RULES.find((rule) => rule.id === 'placeholder')!,
    check: () => {
      throw new Error('broken');
    },
  } as Rule;
  const rules = [broken, RULES.find((rule) => rule.id === 'overlong')!];
  const active = activeRules({}, know, rules, (id, error) => failed.push(`${id}: ${(error as Error).message}`));
  expect(auditAppearance(contextWith('x'.repeat(200)), active).map((f) => f.rule)).toEqual(['overlong']);
  expect(failed).toEqual(['placeholder: broken']);
});

test('texts are cut at the bound, and a pair of surrogates is never cut in two', () => {
  const context = contextWith('A seal');
  expect(readable(context)).toBe(context);
  const long = readable(contextWith('x'.repeat(MOST_READ + 1)));
  expect(long.appearance.markup.alt).toHaveLength(MOST_READ);
  expect(long.uncut).toBe(MOST_READ + 1);
  expect(cut(`${'x'.repeat(MOST_READ - 1)}😀`)).toBe('x'.repeat(MOST_READ - 1));
});
