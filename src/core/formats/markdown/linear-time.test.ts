import { longDescriptionHtml } from '../../words/long-description';
import { parseMarkdown } from './parse-markdown';

/**
 * Markdown that makes parsers slow, in shapes of which each is known to have been quadratic in some parser of CommonMark
 * (from memory: `cmark`'s and `markdown-it`'s “pathological” tests). What is measured is processor time, of a text and of
 * one eight times as long: a parser whose time grows with the square takes 64 times.
 */
const SHAPES: Record<string, string> = {
  ...{
    'links begun': '[a](',
    'pictures begun': '![a](',
    'references begun': '[a][',
    'brackets opened': '[',
    brackets: '[]',
  },
  ...{
    'emphasis begun': '*a ',
    'emphasis crossed': '*a_ ',
    'strong begun': '**a',
    'emphasis closed': 'a* ',
    'strikethrough begun': '~~a',
  },
  ...{
    'code begun': '`a',
    'ticks of many lengths': '`` ` ',
    'tags begun': '<a',
    comments: '<!-',
    addresses: 'http://a',
    references: '&amp',
  },
  ...{
    quotations: '> ',
    lists: '- ',
    definitions: '[a]: b\n',
    'table cells': '|a',
    escapes: '\\',
    footnotes: '[^a]',
    blocks: 'a\n\n',
    'lazy lines': '> a\nb\n',
  },
};
const SIZE = 4_000;
const MOST_GROWTH = 24;

function processorMs(work: () => unknown): number {
  const from = process.cpuUsage().user;
  try {
    work();
  } catch (error) {
    expect((error as { code?: string }).code).toBe('document');
  }
  return (process.cpuUsage().user - from) / 1000;
}

describe.each(Object.entries(SHAPES))('%s', (_, shape) => {
  test.each([
    ['Markdown', (text: string) => parseMarkdown(Buffer.from(text), false)],
    ['MDX', (text: string) => parseMarkdown(Buffer.from(text), true)],
    ['a long description', (text: string) => longDescriptionHtml(text)],
  ])('%s', (_, parse) => {
    const growth = () => {
      const short = processorMs(() => parse(shape.repeat(Math.ceil(SIZE / shape.length))));
      const long = processorMs(() => parse(shape.repeat(Math.ceil((SIZE * 8) / shape.length))));
      return long / Math.max(short, 60);
    };
    // Memory that is tidied up in between counts as well; of a parser that is too slow, every attempt is.
    let least = growth();
    for (let attempt = 1; attempt < 4 && least >= MOST_GROWTH; attempt++) least = Math.min(least, growth());
    expect(least).toBeLessThan(MOST_GROWTH);
  });
});
