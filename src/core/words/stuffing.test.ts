import { readFileSync } from 'node:fs';
import path from 'node:path';
import { wordsOfLanguage } from './language/words';
import { stemmerFor } from './stemmer';
import { stuffingOf } from './stuffing';

interface Case {
  language: string;
  stuffed: boolean;
  text: string;
  /** Number among those of its language and label: the same pattern has the same number in every language. */
  pattern: number;
}

const seen = new Map<string, number>();
const cases: Case[] = readFileSync(path.resolve('src/core/words/testing/stuffing-cases.txt'), 'utf8')
  .trim()
  .split('\n')
  .map((line) => {
    const [, language, label, text] = /^(\w+) ([+-]) (.+)$/.exec(line)!;
    const pattern = seen.get(language! + label!) ?? 0;
    seen.set(language! + label!, pattern + 1);
    return { language: language!, stuffed: label === '+', text: text!, pattern };
  });
/** A pattern never stands in both halves, in whatever language. */
const half = (odd: boolean) => cases.filter((c) => (c.pattern % 2 === 1) === odd);

const score = ({ language, text }: Case) =>
  stuffingOf(text, { lists: wordsOfLanguage(language), stem: stemmerFor(language) }).score;

function measure(of: Case[]) {
  const fired = of.filter((c) => score(c) >= 0.5);
  const right = fired.filter((c) => c.stuffed).length;
  const wrong = of.filter((c) => score(c) >= 0.5 !== c.stuffed).map((c) => `${score(c)} ${c.language} ${c.text}`);
  return { precision: right / fired.length, recall: right / of.filter((c) => c.stuffed).length, wrong };
}

test('the labelled set is as large as it says: 300 texts, half stuffed, in seven languages', () => {
  expect(cases).toHaveLength(300);
  expect(cases.filter((c) => c.stuffed)).toHaveLength(150);
  expect(new Set(cases.map((c) => c.language)).size).toBe(7);
  expect(new Set(cases.map((c) => c.text)).size).toBe(300);
});

test.each([
  ['the half it was tuned on', false],
  ['the half it was not tuned on', true],
])('precision 0.95 and recall 0.90 on %s', (_, odd) => {
  const { precision, recall, wrong } = measure(half(odd));
  expect([precision >= 0.95, recall >= 0.9, wrong]).toEqual([true, true, expect.any(Array)]);
});
