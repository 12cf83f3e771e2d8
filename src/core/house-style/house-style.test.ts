import { readFileSync } from 'node:fs';
import path from 'node:path';
import { RULES } from '../rules';
import { changedRules, checkStyle, houseStyleSchema, limitOf, readHouseStyle, writeHouseStyle } from './house-style';

const style = {
  overlong: { parameters: { limit: 120 } },
  'heavy-file': { off: true },
  echo: { outcome: 'cantTell' as const },
  'house-style': { parameters: { banned: ['lovely'], preferred: [{ instead: 'web site', use: 'website' }] } },
};

test('what is written is read as it was', () => {
  expect(readHouseStyle(writeHouseStyle(style))).toEqual(style);
  expect(readHouseStyle(`\ufeff${writeHouseStyle({})}`)).toEqual({});
});

test('what is as by default is left out, so that a later default counts', () => {
  const written = writeHouseStyle({ overlong: { off: false, parameters: { limit: 100, longDescription: 300 } } });
  expect(JSON.parse(written).rules).toEqual({ overlong: { parameters: { longDescription: 300 } } });
});

test.each([
  ['{', /^The file is not JSON/],
  ['[]', /^The file is no house style of Detto/],
  ['{"format":"detto-house-style","version":2,"rules":{}}', /version/],
  [file({ 'no-such': {} }), 'There is no rule “no-such”.'],
  [file({ overlong: { parameters: { limit: 3 } } }), /^The rule “overlong”: limit: /],
  [file({ overlong: { parameters: { limt: 30 } } }), /^The rule “overlong”: .*limt/],
  [file({ echo: { outcome: 'passed' } }), /rules\.echo\.outcome/],
])('%s is refused, and says why', (text, message) => expect(() => readHouseStyle(text)).toThrow(message));

function file(rules: object): string {
  return JSON.stringify({ format: 'detto-house-style', version: 1, rules });
}

test('only the rules that are set differently have changed, however it is written down', () => {
  expect(changedRules({}, style).sort()).toEqual(['echo', 'heavy-file', 'house-style', 'overlong']);
  expect(changedRules({}, { overlong: { parameters: { limit: 100 } }, echo: { off: false } })).toEqual([]);
  expect(changedRules(style, { ...style, overlong: { parameters: { limit: 90 } } })).toEqual(['overlong']);
});

test('settings from outside are checked; the limit is that of the style', () => {
  expect(() => checkStyle({ stuffed: { parameters: { threshold: 7 } } })).toThrow(/“stuffed”: threshold/);
  expect([limitOf({}), limitOf(style)]).toEqual([100, 120]);
});

test('the schema that is published is that of the rules, and the demo’s style fits', () => {
  const published = JSON.parse(readFileSync(path.resolve('docs/house-style.schema.json'), 'utf8')) as object;
  expect(published).toEqual(JSON.parse(JSON.stringify(houseStyleSchema())));
  const { properties } = houseStyleSchema() as { properties: { rules: { properties: object } } };
  expect(Object.keys(properties.rules.properties)).toEqual(RULES.map((r) => r.id));
  expect(Object.keys(readHouseStyle(readFileSync(path.resolve('demo/house-style.json'), 'utf8'))).length).toBe(3);
});

test('a file with the ids that rules had before is read', () => {
  const file = { format: 'detto-house-style', version: 1, rules: { 'borrowed-host': { off: true } } };
  expect(readHouseStyle(JSON.stringify(file))).toEqual({ hotlinked: { off: true } });
});
