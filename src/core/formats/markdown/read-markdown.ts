import type { Nodes, Parents } from 'mdast';
import type { Appearance, Location } from '../../model/appearance';
import { FRONT_MATTER_KEYS, type FrontMatterKeys } from '../../model/document';
import type { PageReading } from '../../model/page';
import { readSource } from '../html/read-page';
import { lineStarts, position } from '../html/source-position';
import { groupBy } from '../../group-by';
import { PageBuilder } from '../page-builder';
import { entriesOf, nameOf, parentOf } from './front-matter';
import { jsxAttribute, parseMarkdown, type JsxElement, type ParsedMarkdown, type Range } from './parse-markdown';

/** How a picture is written, with what is needed to give it other words. */
export type MarkdownPicture =
  /** `![label](address)` and `![label][name]`. */
  | { form: 'labelled'; label: Range }
  /** `![name]` and `![name][]`: the label is the name of the reference, too. */
  | { form: 'named'; whole: Range; name: string }
  /** An element of HTML in its block of markup, by its order there. */
  | { form: 'html'; block: Range; order: number; reading: Appearance }
  | { form: 'jsx'; element: JsxElement; isFixed: boolean }
  /** A key of the front matter; `value` is where its words stand, null where there are none yet, which then stand `beside` the picture's, null where no line can be added. */
  | { form: 'front matter'; value: Range | null; key: string; beside: Range | null };

export interface MarkdownFile extends ParsedMarkdown {
  reading: PageReading;
  /** By `Appearance.order`. */
  pictures: MarkdownPicture[];
}

/** Elements of MDX that show a picture (common practice). */
const JSX_PICTURE = /^(?:img|Image|.+\.Image)$/;
/** Blocks that are read apart from one another. */
const BLOCKS = new Set(['paragraph', 'heading', 'listItem', 'tableCell', 'code', 'blockquote', 'definition', 'html']);

class Reader {
  readonly page = new PageBuilder();
  readonly pictures: MarkdownPicture[] = [];
  title = '';
  lang: string | null = null;
  private readonly lines: number[];

  constructor(
    private readonly file: ParsedMarkdown,
    private readonly keys: readonly FrontMatterKeys[],
  ) {
    this.lines = lineStarts(file.text);
  }

  read(): void {
    this.visit(this.file.tree, [], null);
  }

  private visit(node: Nodes, path: string[], link: string | null): void {
    if (BLOCKS.has(node.type)) this.page.startBlock();
    switch (node.type) {
      case 'yaml':
        return this.frontMatter(node.value, rangeOf(node).start);
      case 'definition':
        return;
      case 'text':
      case 'inlineCode':
        return this.page.addText(node.value);
      case 'code':
        return this.page.addText(node.value);
      case 'break':
        return this.page.addText(' ');
      case 'image':
        return this.add(
          { form: 'labelled', label: this.labelOf(node) },
          node,
          node.alt ?? '',
          node.url,
          path,
          link,
          node.title,
        );
      case 'imageReference': {
        const src = this.file.definitions.get(node.identifier) ?? null;
        const label = this.labelOf(node);
        const name = this.file.text.slice(label.start, label.end);
        const picture: MarkdownPicture =
          node.referenceType === 'full' ? { form: 'labelled', label } : { form: 'named', whole: rangeOf(node), name };
        return this.add(picture, node, node.alt ?? '', src, path, link);
      }
      case 'html':
        return this.html(node, path, link);
      case 'mdxJsxFlowElement':
      case 'mdxJsxTextElement':
        if (JSX_PICTURE.test(node.name ?? '')) return this.jsx(node, path, link);
        return this.inner(node, [...path, node.name ?? ''], link);
      case 'link':
        return this.inner(node, [...path, 'link'], node.url);
      case 'heading':
        this.inner(node, [...path, `heading ${node.depth}`], link);
        return this.page.endHeading(node.depth);
      default:
        if ('children' in node)
          this.inner(node, node.type === 'root' ? path : [...path, NAMES[node.type] ?? node.type], link);
    }
  }

  private inner(node: Parents, path: string[], link: string | null): void {
    for (const child of node.children) this.visit(child, path, link);
  }

  private labelOf(node: Nodes): Range {
    const { start, end } = rangeOf(node);
    // Written as it is read, where the parser's events have none.
    return (
      this.file.labels.get(start) ?? {
        start: start + 2,
        end: this.file.text.indexOf(']', start) < 0 ? end : this.file.text.indexOf(']', start),
      }
    );
  }

  private locationOf({ start, end }: Range): Location {
    const [line, column] = position(start, this.lines);
    return { kind: 'html', start, end, line, column };
  }

  private add(
    picture: MarkdownPicture,
    node: Nodes,
    alt: string | null,
    src: string | null,
    path: string[],
    link: string | null,
    title: string | null | undefined = null,
  ): void {
    const place = this.page.add({
      element: 'img',
      ...{ alt, title: title ?? null, isDecorative: alt === '', src, link },
      place: [...path, 'picture'].join(' > '),
      location: this.locationOf(rangeOf(node)),
    });
    if (place !== null) this.pictures.push(picture);
  }

  private html(node: Nodes & { value: string }, path: string[], link: string | null): void {
    const block = rangeOf(node);
    const source = this.file.text.slice(block.start, block.end);
    if (!/<(?:img|area|input|svg|picture|object|embed)/i.test(source))
      return this.page.addText(source.replace(/<[^>]*>?/g, ' '));
    for (const reading of readSource(source).appearances) {
      if (reading.location.kind !== 'html') continue;
      const { markup, state, element } = reading;
      const start = block.start + reading.location.start;
      const placed = this.page.add({
        element,
        ...{
          alt: markup.alt ?? (reading.accessible.name || null),
          title: markup.title,
          isDecorative: state === 'decorative',
        },
        ...{
          src: markup.src,
          svg: markup.svg,
          link: reading.context.control?.href ?? link,
          caption: reading.context.caption,
        },
        place: [...path, 'html', element].join(' > '),
        location: this.locationOf({ start, end: block.start + reading.location.end }),
        width: reading.layout.width,
        height: reading.layout.height,
      });
      if (placed !== null) this.pictures.push({ form: 'html', block, order: reading.order, reading });
    }
  }

  private jsx(node: JsxElement, path: string[], link: string | null): void {
    const [alt, src] = [jsxAttribute(node, 'alt'), jsxAttribute(node, 'src')];
    // What an expression or a spread gives cannot be read here, nor written.
    const isFixed = !node.attributes.some((a) => a.type === 'mdxJsxExpressionAttribute') && alt?.value !== null;
    const text = alt ? (alt.value ?? '{…}') : null;
    this.add({ form: 'jsx', element: node, isFixed }, node, text, src?.value ?? null, path, link);
  }

  private frontMatter(yaml: string, start: number): void {
    // Behind the first line of three hyphens.
    const entries = entriesOf(yaml, this.file.text.indexOf('\n', start) + 1);
    const text = (key: string) => entries.find((e) => e.key === key && typeof e.value === 'string');
    this.title = (text('title')?.value as string | undefined) ?? '';
    this.lang = (text('lang')?.value as string | undefined) ?? (text('language')?.value as string | undefined) ?? null;
    for (const [key, pairs] of groupBy(this.keys, (pair) => pair.picture)) {
      const picture = text(key);
      if (!picture) continue;
      const names = pairs.map((pair) => pair.words);
      const words = names.map((name) => entries.find((e) => e.key === name)).find((e) => e !== undefined);
      const alt = typeof words?.value === 'string' ? words.value : null;
      const place = this.page.add({
        element: 'img',
        ...{ alt, title: null, isDecorative: alt === '', src: String(picture.value) },
        place: `front matter > ${key}`,
        location: this.locationOf(picture),
      });
      const value = words ? { start: words.start, end: words.end } : null;
      const wanted = words?.key ?? names[0]!;
      // A new line stands beside the picture's own: it belongs to the same mapping only then.
      const beside = picture.isOnOwnLine && parentOf(wanted) === parentOf(key) ? picture : null;
      if (place !== null) this.pictures.push({ form: 'front matter', value, key: nameOf(wanted), beside });
    }
  }
}

/** Kinds of blocks, as a reader would name them. */
const NAMES: Record<string, string> = {
  listItem: 'item',
  tableRow: 'row',
  tableCell: 'cell',
  blockquote: 'quote',
  strong: 'strong',
  emphasis: 'emphasis',
};

const rangeOf = (node: Nodes): Range => ({ start: node.position!.start.offset!, end: node.position!.end.offset! });

/** @throws DocumentError when it cannot be parsed */
export function readMarkdown(
  bytes: Buffer,
  isMdx: boolean,
  keys: readonly FrontMatterKeys[] = FRONT_MATTER_KEYS,
): MarkdownFile {
  const parsed = parseMarkdown(bytes, isMdx);
  const reader = new Reader(parsed, keys);
  reader.read();
  const reading = reader.page.build({ title: reader.title, lang: reader.lang });
  reading.title ||= reading.headings[0] ?? '';
  return { ...parsed, reading, pictures: reader.pictures };
}
