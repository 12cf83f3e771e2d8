import type { Definition, Nodes, Root } from 'mdast';
import { fromMarkdown } from 'mdast-util-from-markdown';
import { frontmatterFromMarkdown } from 'mdast-util-frontmatter';
import { gfmFromMarkdown } from 'mdast-util-gfm';
import { mdxFromMarkdown, type MdxJsxAttribute, type MdxJsxFlowElement, type MdxJsxTextElement } from 'mdast-util-mdx';
import { parse, postprocess, preprocess } from 'micromark';
import { frontmatter } from 'micromark-extension-frontmatter';
import { gfm } from 'micromark-extension-gfm';
import { mdxjs } from 'micromark-extension-mdxjs';
import type { Extension } from 'micromark-util-types';
import { isDenseMarkdown } from '../../words/dense-markdown';
import { DocumentError } from '../document-error';

export interface Range {
  start: number;
  end: number;
}

export type JsxElement = MdxJsxFlowElement | MdxJsxTextElement;

/** A Markdown file taken apart; offsets are UTF-16 code units of the text without its byte order mark. */
export interface ParsedMarkdown {
  mark: string;
  text: string;
  tree: Root;
  /** Where the label of a picture stands, by where the picture begins. */
  labels: ReadonlyMap<number, Range>;
  /** Addresses of references, by their normalised identifiers. */
  definitions: ReadonlyMap<string, string>;
}

const front = ['yaml', 'toml'] as const;

/**
 * CommonMark with the tables of GitHub and front matter; MDX where that is asked for.
 *
 * @throws DocumentError when it is not UTF-8, too dense to be parsed in time, or MDX that cannot be parsed
 */
export function parseMarkdown(bytes: Buffer, isMdx: boolean): ParsedMarkdown {
  const whole = bytes.toString('utf8');
  if (!Buffer.from(whole).equals(bytes))
    throw new DocumentError({ id: 'document.encoding', values: { part: 'Markdown', encoding: 'utf-8' } });
  const mark = whole.startsWith('\ufeff') ? '\ufeff' : '';
  const text = whole.slice(mark.length);
  if (isDenseMarkdown(text)) throw new DocumentError({ id: 'document.markdown-dense' });
  const extensions = [frontmatter([...front]), gfm(), ...(isMdx ? [mdxjs()] : [])];
  try {
    const tree = fromMarkdown(text, {
      extensions,
      mdastExtensions: [frontmatterFromMarkdown([...front]), gfmFromMarkdown(), ...(isMdx ? [mdxFromMarkdown()] : [])],
    });
    return { mark, text, tree, labels: labelsOf(text, extensions), definitions: definitionsOf(tree) };
  } catch (error) {
    throw new DocumentError({
      id: 'document.markdown',
      values: { detail: (error as Error).message.split('\n')[0]!.slice(0, 200) },
    });
  }
}

/** The tree has no place for labels: the events of the parser have. */
function labelsOf(text: string, extensions: Extension[]): Map<number, Range> {
  const labels = new Map<number, Range>();
  const open: { start: number; label?: Range }[] = [];
  for (const [kind, token] of postprocess(
    parse({ extensions })
      .document()
      .write(preprocess()(text, undefined, true)),
  )) {
    if (token.type === 'image') {
      if (kind === 'enter') open.push({ start: token.start.offset });
      else {
        const own = open.pop();
        if (own?.label) labels.set(own.start, own.label);
      }
    } else if (kind === 'enter' && token.type === 'label') {
      const own = open.at(-1);
      // Behind `![` and before `]`.
      if (own && !own.label) own.label = { start: token.start.offset + 2, end: token.end.offset - 1 };
    }
  }
  return labels;
}

function definitionsOf(tree: Root): Map<string, string> {
  const out = new Map<string, string>();
  const visit = (node: Nodes) => {
    if (node.type === 'definition' && !out.has(node.identifier)) out.set(node.identifier, (node as Definition).url);
    if ('children' in node) for (const child of node.children) visit(child);
  };
  visit(tree);
  return out;
}

/** A plain attribute of a JSX element; undefined where there is none, null where an expression gives its value. */
export function jsxAttribute(e: JsxElement, name: string): { node: MdxJsxAttribute; value: string | null } | undefined {
  const node = e.attributes.find((a): a is MdxJsxAttribute => a.type === 'mdxJsxAttribute' && a.name === name);
  if (!node) return undefined;
  return {
    node,
    value: typeof node.value === 'string' ? node.value : node.value === undefined || node.value === null ? '' : null,
  };
}
