import { getSchema } from '@tiptap/core';
import { longDescriptionHtml, withLines } from '@/core/words/long-description';
import { EXTENSIONS } from './extensions';
import { markdownOf, markdownParser } from './markdown';

const schema = getSchema(EXTENSIONS);
const there = (text: string) => markdownParser(schema).parse(text);
const andBack = (text: string) => markdownOf(there(text));

/** What is stored must read the same after it was opened in the editor: micromark is the second opinion. */
test.each([
  ['headings and paragraphs', '## Sailings\n\nTwo a day.\n\n### Winter\n\nOne.'],
  ['lists in lists', '- Holm\n  - pier 1\n  - pier 2\n- Ness\n\n1. first\n2. second'],
  ['a list that begins later', '9. ninth\n10. tenth'],
  ['a table', '| Port | Time |\n| --- | --- |\n| Holm | 7:10 |\n| *Ness* | a \\| b |'],
  ['links and emphasis', 'See [the *pier*](https://a.example/x "t") and **this** `code`.'],
  ['lines that end', 'Holm\nNess\n\nPier'],
  ['a quotation, a rule and code', '> said\n\n---\n\n```\na < b\n```'],
  ['HTML and pictures, which are text', 'a <b>c</b> ![p](q.png)'],
  ['lines that look like markup', withLines('', ['# 1 Pier', '- closed', '2. Holm', '> quay', '1_000 [m] *', '+ x'])],
])('%s', (_, text) => expect(longDescriptionHtml(andBack(text))).toBe(longDescriptionHtml(text)));

test('a table is one of the editor, with a head', () => {
  const table = there('| Port |\n| --- |\n| Holm |').firstChild!;
  expect(table.type.name).toBe('table');
  expect(table.firstChild!.firstChild!.type.name).toBe('tableHeader');
  expect(table.textContent).toBe('PortHolm');
});

test('an address that would run something is no link', () => {
  expect(there('[go](javascript:alert(1))').textContent).toContain('javascript:');
});
