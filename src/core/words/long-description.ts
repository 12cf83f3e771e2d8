import { micromark } from 'micromark';

/**
 * A long description as HTML. It is written in CommonMark (headings, lists, emphasis, links); a line that ends, ends in
 * the page as well. HTML in it is shown as text and links that would run something lead nowhere, and pictures are not
 * shown, so that the result can be put into any page.
 */
export function longDescriptionHtml(text: string): string {
  return micromark(text.replace(/(?<=\S)[ \t]*\r?\n(?=\S)/g, '  \n'), {
    extensions: [{ disable: { null: ['labelStartImage'] } }],
  });
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
