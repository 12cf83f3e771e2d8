/** Characters that open links or emphasis in one paragraph; those of real texts have a tenth at most. */
const MOST_OPENERS = 1_000;
/** Quotations and lists inside one another that one line opens. */
const MOST_CONTAINERS = 100;

/** Lines that go on with a quotation without its sign, which a parser takes up again from its beginning. */
const MOST_LAZY = 1_000;

/** Begins a block of its own: a heading, an item of a list, a row of a table, a fence. */
const BLOCK = /^\s{0,3}(?:#{1,6}\s|[-*+]\s|\d{1,9}[.)]\s|\||```|~~~)/;
/** A link or picture, or a run of emphasis that is no part of a word. */
const OPENER = /!?\[|~~|(?<![\p{L}\p{N}])[*_]+|[*_]+(?![\p{L}\p{N}_*])/gu;
const CONTAINERS = /^(?:[ \t]*(?:>|[-*+](?=\s)|\d{1,9}[.)](?=\s)))+/;

/**
 * Whether a text is too dense for a parser of CommonMark: brackets and emphasis of one paragraph are matched with each
 * other, which takes a time that grows with the square of their number (CommonMark 0.31, appendix “A parsing strategy”).
 * It is read once, in a time that grows with its length.
 */
export function isDenseMarkdown(text: string): boolean {
  let [openers, lazy] = [0, 0];
  let isQuoted = false;
  for (const line of text.split(/\r\n?|\n/)) {
    const containers = CONTAINERS.exec(line)?.[0];
    if (containers && (containers.match(/>|[-*+]|\d+[.)]/g)?.length ?? 0) > MOST_CONTAINERS) return true;
    if (line.trim() === '' || BLOCK.test(line)) openers = 0;
    openers += line.match(OPENER)?.length ?? 0;
    if (openers > MOST_OPENERS) return true;
    if (isQuoted && line.trim() !== '' && !line.trimStart().startsWith('>') && ++lazy > MOST_LAZY) return true;
    isQuoted = line.trimStart().startsWith('>');
  }
  return false;
}
