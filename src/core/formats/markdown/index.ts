import type { DocumentFormat } from '../../model/document';
import { bufferOf } from '../heads';
import { readMarkdown } from './read-markdown';
import { writeMarkdown } from './write-markdown';

/** Its name tells: MDX reads braces and elements where Markdown reads text. */
const isMdx = (name: string | undefined) => /\.mdx$/i.test(name ?? '');

/** Markdown (CommonMark 0.31 with tables and front matter) and MDX 3. */
export const markdown: DocumentFormat = {
  id: 'markdown',
  matches: ({ name, type }) =>
    /\.(?:md|mdx|markdown)$/i.test(name) || (type !== null && /^text\/(?:markdown|mdx)\b/i.test(type)),
  async read(bytes, { name, frontMatter } = {}) {
    const { reading } = readMarkdown(bufferOf(bytes), isMdx(name), frontMatter);
    return { pages: [{ fragment: null, reading }], notes: [] };
  },
  async write(bytes, edits, { name, frontMatter } = {}) {
    return writeMarkdown(bufferOf(bytes), edits, isMdx(name), frontMatter);
  },
};
