import { micromark } from 'micromark';
import { isDenseMarkdown } from './dense-markdown';
import { gfmTable, gfmTableHtml } from 'micromark-extension-gfm-table';

/**
 * A long description as HTML. It is written in CommonMark (headings, lists, emphasis, links) with tables as GitHub
 * Flavored Markdown (4.10) writes them; a line that ends, ends in the page as well. HTML in it is shown as text and links
 * that would run something lead nowhere, and pictures are not shown, so that the result can be put into any page.
 *
 * @param level of its topmost headings, from 1 to 6, so that they fit under those around it; as written when absent
 */
export function longDescriptionHtml(text: string, level?: number): string {
  // What is too dense to be parsed is no text for people either, and is shown as it stands.
  if (isDenseMarkdown(text)) return `<pre>${text.replace(/[&<>]/g, (c) => ESCAPES[c]!)}</pre>`;
  const html = micromark(withLineBreaks(text), {
    extensions: [gfmTable(), { disable: { null: ['labelStartImage'] } }],
    htmlExtensions: [gfmTableHtml()],
  }).replace(/<th(?=[ >])/g, '<th scope="col"');
  return level === undefined ? html : withHeadingsFrom(html, level);
}

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;' };

/** The row below the head of a table (GitHub Flavored Markdown, 4.10). */
const DELIMITER_ROW = /^(?=.*\|)[ \t]*\|?[ \t]*:?-+:?[ \t]*(?:\|[ \t]*:?-+:?[ \t]*)*\|?[ \t]*$/m;

/** Text whose lines end where they end, but for the rows of tables. */
function withLineBreaks(text: string): string {
  return text
    .split(/(\n[ \t]*\r?\n)/)
    .map((block) => (DELIMITER_ROW.test(block) ? block : block.replace(/(?<=\S)[ \t]*\r?\n(?=\S)/g, '  \n')))
    .join('');
}

/** HTML whose topmost headings are of a level, and the others below them; none is below `h6`. */
function withHeadingsFrom(html: string, level: number): string {
  const levels = [...html.matchAll(/<h([1-6])>/g)].map((m) => Number(m[1]));
  const shift = level - Math.min(...levels);
  return html.replace(/<(\/?)h([1-6])>/g, (_, end, own) => `<${end}h${Math.min(6, Number(own) + shift)}>`);
}

/** A long description with lines put under what it says already; recognised text goes in as it stands, in its order. */
export function withLines(text: string, lines: readonly string[]): string {
  const added = lines.map(asText).join('\n');
  return text.trim() === '' ? added : `${text.trimEnd()}\n\n${added}`;
}

/** A line that CommonMark takes for what it is: no heading, list or rule by accident. */
function asText(line: string): string {
  return line
    .trim()
    .replace(/[\\`*_[\]<]/g, '\\$&')
    .replace(/^(\d+)([.)])(?=\s)/, '$1\\$2')
    .replace(/^(?:[-+#>=~]|\|)/, '\\$&');
}
