import type { Node as RichNode, Schema } from '@tiptap/pm/model';
import MarkdownIt from 'markdown-it';
import { isDenseMarkdown } from '@/core/words/dense-markdown';
import { MarkdownParser, MarkdownSerializer, defaultMarkdownSerializer } from 'prosemirror-markdown';

/**
 * CommonMark with tables, as long descriptions are stored, into what the editor shows and back. A line that ends, ends in
 * both; HTML and pictures are text, as in `longDescriptionHtml`.
 */
export function markdownParser(schema: Schema): MarkdownParser {
  const markdown = new MarkdownIt('commonmark', { html: false }).enable('table').disable('image');
  // A cell of the editor holds paragraphs, one of the table's text only.
  markdown.core.ruler.push('paragraphs-in-cells', (state) => {
    state.tokens = state.tokens.flatMap((token, i, all) =>
      token.type === 'inline' && /^t[hd]_open$/.test(all[i - 1]?.type ?? '')
        ? [new state.Token('paragraph_open', 'p', 1), token, new state.Token('paragraph_close', 'p', -1)]
        : [token],
    );
  });
  return new MarkdownParser(schema, markdown, {
    blockquote: { block: 'blockquote' },
    paragraph: { block: 'paragraph' },
    list_item: { block: 'listItem' },
    bullet_list: { block: 'bulletList' },
    ordered_list: { block: 'orderedList', getAttrs: (t) => ({ start: Number(t.attrGet('start') ?? 1) }) },
    heading: { block: 'heading', getAttrs: (t) => ({ level: Number(t.tag.slice(1)) }) },
    code_block: { block: 'codeBlock', noCloseToken: true },
    fence: { block: 'codeBlock', noCloseToken: true },
    hr: { node: 'horizontalRule' },
    softbreak: { node: 'hardBreak' },
    hardbreak: { node: 'hardBreak' },
    table: { block: 'table' },
    thead: { ignore: true },
    tbody: { ignore: true },
    tr: { block: 'tableRow' },
    th: { block: 'tableHeader' },
    td: { block: 'tableCell' },
    em: { mark: 'italic' },
    strong: { mark: 'bold' },
    link: { mark: 'link', getAttrs: (t) => ({ href: t.attrGet('href'), title: t.attrGet('title') }) },
    code_inline: { mark: 'code', noCloseToken: true },
  });
}

const { nodes, marks } = defaultMarkdownSerializer;

const serializer: MarkdownSerializer = new MarkdownSerializer(
  {
    blockquote: nodes['blockquote']!,
    paragraph: nodes['paragraph']!,
    listItem: nodes['list_item']!,
    heading: nodes['heading']!,
    text(state, node, parent, index) {
      // What begins a line must not become a heading or a list there.
      const isLineStart = index > 0 && parent.child(index - 1).type.name === 'hardBreak';
      state.text(isLineStart ? state.esc(node.text!, true) : node.text!, !isLineStart);
    },
    codeBlock(state, node) {
      state.write('```\n');
      state.text(node.textContent, false);
      state.ensureNewLine();
      state.write('```');
      state.closeBlock(node);
    },
    horizontalRule(state, node) {
      state.write('---');
      state.closeBlock(node);
    },
    bulletList: (state, node) => state.renderList(node, '  ', () => '- '),
    orderedList(state, node) {
      const start = Number(node.attrs['start'] ?? 1);
      const width = String(start + node.childCount - 1).length + 2;
      state.renderList(node, ' '.repeat(width), (i) => `${start + i}. `.padEnd(width));
    },
    hardBreak: (state) => state.write('\n'),
    table(state, node) {
      node.forEach((row, _, i) => {
        const cells = row.children.map(cellText);
        // A row that was begun and not filled says nothing.
        if (i > 0 && cells.every((cell) => cell === '')) return;
        state.write(`| ${cells.join(' | ')} |`);
        state.ensureNewLine();
        // The first row is the head: a table has one in Markdown.
        if (i === 0) state.write(`| ${cells.map(() => '---').join(' | ')} |`);
        state.ensureNewLine();
      });
      state.closeBlock(node);
    },
  },
  { italic: marks['em']!, bold: marks['strong']!, link: marks['link']!, code: marks['code']! },
);

/** What stands in a cell, on one line. */
const cellText = (cell: RichNode): string =>
  markdownOf(cell)
    .replace(/\s*\n\s*/g, ' ')
    .replace(/(?<!\\)\|/g, '\\|');

/** A text as the editor shows it; what is too dense to be parsed in time stands there as it is. */
export function richTextOf(schema: Schema, text: string): RichNode {
  const { paragraph } = schema.nodes;
  return isDenseMarkdown(text)
    ? schema.topNodeType.create(null, paragraph!.create(null, schema.text(text)))
    : markdownParser(schema).parse(text);
}

export const markdownOf = (node: RichNode): string => serializer.serialize(node, { tightLists: true }).trimEnd();
