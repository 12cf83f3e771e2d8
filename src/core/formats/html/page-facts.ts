import type { PagePicture } from '../../model/page';
import { cssOf, importsOf } from './backgrounds';
import { SVG_NS, attr, textOf, type Element } from './tree';
import { collapse } from '../../white-space';

/** An index links the same few pages thousands of times. */
const withoutFragment = (href: string) => href.trim().split('#', 1)[0]!;

/** What the elements of a page say about the page itself. */
export class PageFacts {
  title = '';
  description: string | null = null;
  lang: string | null = null;
  readonly followed = new Set<string>();
  /** Marked nofollow. */
  readonly marked = new Set<string>();
  readonly sheets: string[] = [];
  canonical: string | null = null;
  readonly directives: string[] = [];
  base: string | null = null;
  readonly pagePictures: PagePicture[] = [];
  /** How many scripts it runs. */
  scripts = 0;

  note(node: Element): void {
    const standing = pagePictureOf(node);
    if (standing) addPagePicture(this.pagePictures, standing);
    switch (node.tagName) {
      case 'html':
        this.lang = attr(node, 'lang') || null;
        break;
      case 'base':
        this.base ??= attr(node, 'href') ?? null;
        break;
      case 'title':
        if (node.namespaceURI !== SVG_NS) this.title ||= collapse(textOf(node));
        break;
      case 'a':
      case 'area': {
        const href = attr(node, 'href');
        if (href === undefined) break;
        const links = /\bnofollow\b/i.test(attr(node, 'rel') ?? '') ? this.marked : this.followed;
        links.add(withoutFragment(href));
        break;
      }
      case 'iframe':
      case 'frame': {
        const framed = attr(node, 'src');
        if (framed) this.followed.add(withoutFragment(framed));
        break;
      }
      case 'script':
        if (/^(?:$|module$|(?:text|application)\/(?:java|ecma)script)/i.test(attr(node, 'type') ?? '')) this.scripts++;
        break;
      case 'style':
        for (const sheet of importsOf(cssOf(node))) this.sheets.push(sheet);
        break;
      case 'link': {
        const href = attr(node, 'href');
        const rels = new Set((attr(node, 'rel') ?? '').toLowerCase().split(/\s+/));
        const forPrint = /^\s*print\s*$/i.test(attr(node, 'media') ?? '');
        if (href && (rels.has('next') || rels.has('prev'))) this.followed.add(withoutFragment(href));
        if (href !== undefined && rels.has('canonical')) this.canonical ??= href;
        if (href && rels.has('stylesheet') && !rels.has('alternate') && !forPrint) this.sheets.push(href);
        break;
      }
      case 'meta': {
        const [name, content] = [attr(node, 'name')?.toLowerCase(), attr(node, 'content') ?? ''];
        if (name === 'robots') for (const word of wordsBetweenCommas(content)) this.directives.push(word);
        if (name === 'description') this.description ??= collapse(content) || null;
      }
    }
  }
}

/** A picture that a page's head names for use elsewhere; words for the preview come in an element of their own. */
function pagePictureOf(node: Element): PagePicture | { wordsForPreview: string } | null {
  if (node.tagName === 'link' && /(?:^|\s)(?:icon|apple-touch-icon|mask-icon)(?:\s|$)/i.test(attr(node, 'rel') ?? '')) {
    const src = attr(node, 'href')?.trim();
    return src ? { kind: 'icon', src, alt: null } : null;
  }
  if (node.tagName !== 'meta') return null;
  const property = (attr(node, 'property') ?? attr(node, 'name') ?? '').toLowerCase();
  const content = attr(node, 'content')?.trim();
  if (!content) return null;
  if (/^(?:og|twitter):image(?::(?:url|src))?$/.test(property)) return { kind: 'preview', src: content, alt: null };
  return /^(?:og|twitter):image:alt$/.test(property) ? { wordsForPreview: content } : null;
}

/** Words belong to the preview before them (Open Graph protocol, structured properties). */
function addPagePicture(pagePictures: PagePicture[], found: PagePicture | { wordsForPreview: string }): void {
  if ('src' in found) {
    if (!pagePictures.some((a) => a.kind === found.kind && a.src === found.src)) pagePictures.push(found);
    return;
  }
  const preview = pagePictures.findLast((a) => a.kind === 'preview');
  if (preview) preview.alt ??= found.wordsForPreview;
}

const wordsBetweenCommas = (text: string) =>
  text
    .toLowerCase()
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean);
