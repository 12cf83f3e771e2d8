import type { Change, Edit, FrontMatterKeys, Refusal, WrittenDocument } from '../../model/document';
import type { Message } from '../../model/message';
import { patchPage } from '../html/patch';
import { refusedParts } from '../refused-parts';
import { spliced, type Splice } from '../splice';
import { jsxAttribute, type Range } from './parse-markdown';
import { readMarkdown, type MarkdownFile, type MarkdownPicture } from './read-markdown';

/** Text as it stands in a label: nothing in it is markup (CommonMark 0.31, 2.4). */
function inLabel(text: string, isMdx: boolean): string {
  const special = isMdx ? /[\\[\]*_`<&~{}|$]/g : /[\\[\]*_`<&~|$]/g;
  return oneLine(text).replace(special, '\\$&');
}

const oneLine = (text: string) => text.replace(/\s*[\r\n]+\s*/g, ' ');

const atBlock = (s: Splice, block: Range): Splice => ({ ...s, start: s.start + block.start, end: s.end + block.start });

/** Puts words into a Markdown file; only labels, attributes and values are touched. */
export function writeMarkdown(
  bytes: Buffer,
  edits: readonly Edit[],
  isMdx: boolean,
  keys?: readonly FrontMatterKeys[],
): WrittenDocument {
  const file = readMarkdown(bytes, isMdx, keys);
  const splices: Splice[] = [];
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  for (const edit of edits) {
    const { order, text } = edit;
    const picture = file.pictures[order];
    const a = file.reading.appearances[order];
    if (!picture || !a) throw new RangeError(`The file has no appearance ${order}.`);
    const line = a.location.kind === 'html' ? a.location.line : 0;
    const refuse = (part: Refusal['part'], reason: Message) => refusals.push({ order, line, part, reason });
    for (const refused of refusedParts(edit)) refusals.push({ order, line, ...refused });
    if (text === undefined) continue;
    const own = spliceFor(file, picture, text, isMdx);
    if ('id' in own) {
      refuse('attributes', own);
      continue;
    }
    const range = shownRange(file, a.location.kind === 'html' ? a.location : own, own);
    const before = file.text.slice(range.start, range.end);
    const after = spliced(before, [{ ...own, start: own.start - range.start, end: own.end - range.start }]);
    if (before === after) continue;
    splices.push(own);
    changes.push({ order, part: 'attributes', line, before, after });
  }
  return {
    bytes: splices.length > 0 ? Buffer.from(file.mark + spliced(file.text, splices)) : bytes,
    changes,
    refusals,
  };
}

/** What is shown of a change: the picture's own source, whole lines where its words stand elsewhere. */
function shownRange({ text }: MarkdownFile, own: Range, change: Range): Range {
  if (change.start >= own.start && change.end <= own.end) return own;
  const start = text.lastIndexOf('\n', change.start - 1) + 1;
  const end = text.indexOf('\n', change.end);
  return { start, end: end < 0 ? text.length : end };
}

function spliceFor(file: MarkdownFile, picture: MarkdownPicture, text: string, isMdx: boolean): Splice | Message {
  switch (picture.form) {
    case 'labelled':
      return { ...picture.label, text: inLabel(text, isMdx) };
    case 'named':
      return { ...picture.whole, text: `![${inLabel(text, isMdx)}][${picture.name}]` };
    case 'front matter':
      return frontMatterSplice(file, picture, text);
    case 'jsx': {
      const { element, isFixed } = picture;
      if (!isFixed) return { id: 'refusal.expression' };
      const value = `alt="${oneLine(text).replace(/&/g, '&amp;').replace(/"/g, '&quot;')}"`;
      const alt = jsxAttribute(element, 'alt')?.node.position;
      if (alt) return { start: alt.start.offset!, end: alt.end.offset!, text: value };
      const start = element.position!.start.offset!;
      const at = start + /^<\s*[\w.]+/.exec(file.text.slice(start))![0].length;
      return { start: at, end: at, text: ` ${value}` };
    }
    case 'html':
      return htmlSplice(file, picture, text);
  }
}

/** One picture in a block of HTML: what the patch changes there, as one splice. */
function htmlSplice(
  file: MarkdownFile,
  { block, order }: MarkdownPicture & { form: 'html' },
  text: string,
): Splice | Message {
  const source = file.text.slice(block.start, block.end);
  // A bar would end the cell of a table; a line break could end the block.
  const { bytes, refusals } = patchPage(
    Buffer.from(source),
    [{ order, text: oneLine(text).replace(/\|/g, '\ue07c') }],
    'utf-8',
  );
  if (refusals[0]) return refusals[0].reason;
  const after = bytes.toString('utf8').replace(/\ue07c/g, '&#124;');
  let start = 0;
  while (start < source.length && source[start] === after[start]) start++;
  let same = 0;
  while (same < Math.min(source.length, after.length) - start && source.at(-1 - same) === after.at(-1 - same)) same++;
  return atBlock({ start, end: source.length - same, text: after.slice(start, after.length - same) }, block);
}

function frontMatterSplice(
  file: MarkdownFile,
  { value, key, beside }: MarkdownPicture & { form: 'front matter' },
  text: string,
): Splice | Message {
  // A JSON string is a YAML string in double quotes (YAML 1.2, 1.3).
  const words = JSON.stringify(oneLine(text));
  if (value) return { ...value, text: words };
  if (beside === null) return { id: 'refusal.front-matter', values: { key } };
  const newline = file.text.includes('\r\n') ? '\r\n' : '\n';
  const indent = /^[ \t]*/.exec(file.text.slice(file.text.lastIndexOf('\n', beside.start) + 1))![0];
  const lineEnd = file.text.indexOf('\n', beside.end);
  const at = lineEnd < 0 ? file.text.length : lineEnd + 1;
  return { start: at, end: at, text: `${indent}${key}: ${words}${newline}` };
}
