import { strings } from '@/ui/strings';
import { allOf, languageName, plain, weightOf } from './message';

test.each<[number, string]>([
  [0, '0 bytes'],
  [1, '1 byte'],
  [1_023, '1,023 bytes'],
  [1_024, '1 KB'],
  [102_400, '100 KB'],
  [1_048_575, '1,024 KB'],
  [1_572_864, '1.5 MB'],
  [10_485_760, '10 MB'],
  [26_214_400, '25 MB'],
  [1_610_612_736, '1.5 GB'],
])('%i bytes are said as %s', (bytes, words) => expect(strings.message(weightOf(bytes))).toBe(words));

test('several messages are one sentence', () => {
  expect(strings.message(allOf([plain('it rains')]))).toBe('it rains');
  expect(strings.message(allOf(['a', 'b', 'c'].map(plain)))).toBe('a, and b, and c');
});

// Names of languages as CLDR has them for English.
test.each([
  ['de', 'German'],
  ['pt-BR', 'Brazilian Portuguese'],
  ['xx', 'xx'],
])('%s is %s', (tag, name) => expect(strings.message(languageName(tag))).toBe(name));
