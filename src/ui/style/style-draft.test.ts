import {
  linesOf,
  pairLines,
  pairsOf,
  parameter,
  sameStyle,
  standingOf,
  withParameter,
  withStanding,
} from './style-draft';

const rules = [
  {
    id: 'overlong',
    title: '',
    group: 'words' as const,
    gives: ['advice' as const],
    defaults: { limit: 100, longDescription: 250 },
    fields: [],
  },
  { id: 'echo', title: '', group: 'sets' as const, gives: ['advice' as const], defaults: {}, fields: [] },
];

test('a parameter is as it is set, else as by default', () => {
  expect(parameter({ rules, style: {} }, 'overlong', 'limit')).toBe(100);
  const style = withParameter({ overlong: { off: true } }, 'overlong', 'limit', 80);
  expect(parameter({ rules, style }, 'overlong', 'limit')).toBe(80);
  expect(style).toEqual({ overlong: { off: true, parameters: { limit: 80 } } });
});

test.each(['off', 'failed', 'cantTell', 'advice', 'as given'] as const)(
  'a rule is set to “%s” and its parameters stay',
  (to) => {
    const style = withStanding({ overlong: { parameters: { limit: 80 }, outcome: 'failed' } }, 'overlong', to);
    expect(standingOf(style, 'overlong')).toBe(to);
    expect(style['overlong']!.parameters).toEqual({ limit: 80 });
  },
);

test('styles are the same that ask for the same', () => {
  expect(sameStyle(rules, {}, { overlong: { off: false, parameters: { limit: 100 } } })).toBe(true);
  expect(sameStyle(rules, {}, withStanding({}, 'echo', 'as given'))).toBe(true);
  expect(sameStyle(rules, {}, withStanding({}, 'echo', 'off'))).toBe(false);
  expect(sameStyle(rules, {}, withParameter({}, 'overlong', 'longDescription', 200))).toBe(false);
});

test('lists are one a line, pairs too; what is no pair is left out', () => {
  expect(linesOf(' lovely \n\nvery\t\n')).toEqual(['lovely', 'very']);
  const pairs = pairsOf('web site = website\nnothing\n= x\na=b=c\ne-mail=email', ['instead', 'use']);
  expect(pairs).toEqual([
    { instead: 'web site', use: 'website' },
    { instead: 'e-mail', use: 'email' },
  ]);
  expect(pairsOf(pairLines(pairs, ['instead', 'use']), ['instead', 'use'])).toEqual(pairs);
});
