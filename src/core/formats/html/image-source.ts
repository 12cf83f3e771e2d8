import type { AppearanceElement, Markup } from '../../model/appearance';
import { parseSrcset } from './srcset';
import { attr, descendants, isElement, styleOf, type Element } from './tree';
import type { Candidate } from '../../model/appearance';

/** The usual attributes in which pages keep an address until a script shows the picture (common practice). */
const LAZY = ['data-src', 'data-lazy-src', 'data-original', 'data-lazy', 'data-echo', 'data-defer-src'];
const LAZY_SET = ['data-srcset', 'data-lazy-srcset'];
export const LAZY_BACKGROUND = ['data-bg', 'data-background', 'data-background-image'];
export const isLazyBackground = (name: string) => name.startsWith('data-b') && LAZY_BACKGROUND.includes(name);

function firstOf(node: Element, names: readonly string[]): string | undefined {
  for (const name of names) {
    const value = attr(node, name)?.trim();
    if (value) return value;
  }
  return undefined;
}

/** Where an element takes its picture from: its address as written, or the one that a script is to load later. */
export function sourceOf(node: Element, element: AppearanceElement): Pick<Markup, 'src' | 'lazy' | 'sheet'> {
  const plain = { lazy: false, sheet: null };
  const orLater = (src: string, names: readonly string[]) => {
    const later = src === '' || src.startsWith('data:') ? firstOf(node, names) : undefined;
    return { src: later ?? src, lazy: later !== undefined, sheet: null };
  };
  switch (element) {
    case 'object':
      return { ...plain, src: attr(node, 'data') ?? '' };
    case 'input':
    case 'embed':
      return { ...plain, src: attr(node, 'src') ?? '' };
    case 'poster':
      return orLater(attr(node, 'poster') ?? '', ['data-poster']);
    case 'img':
      return orLater(attr(node, 'src') ?? '', LAZY);
    case 'source': {
      const set = attr(node, 'srcset');
      return { src: parseSrcset(set ?? firstOf(node, LAZY_SET) ?? '')[0]?.src ?? '', lazy: !set, sheet: null };
    }
    case 'svg':
      return { ...plain, src: usedFile(node) };
    case 'css-background': {
      const value = firstOf(node, LAZY_BACKGROUND) ?? '';
      return { src: /url\(\s*["']?([^"')]+)/i.exec(value)?.[1] ?? value, lazy: true, sheet: null };
    }
    default:
      return { ...plain, src: null };
  }
}

/** The file that an inline `svg` takes its shapes from (`use` of another document); null when it has its own. */
function usedFile(svg: Element): string | null {
  for (const n of descendants(svg)) {
    const href = isElement(n) && n.tagName === 'use' ? attr(n, 'href')?.trim() : undefined;
    if (href && !href.startsWith('#')) return href;
  }
  return null;
}

/** The versions of an `img`: those of its `picture` first, then its own, as a browser considers them. */
export function candidatesOf(node: Element, picture: Element | null): Candidate[] {
  const set = (element: Element) => attr(element, 'srcset') ?? firstOf(element, LAZY_SET) ?? '';
  if (node.tagName === 'source') return parseSrcset(set(node), attr(node, 'media') ?? '');
  if (node.tagName !== 'img') return [];
  const sources = (picture?.childNodes ?? []).filter(
    (child): child is Element => isElement(child) && child.tagName === 'source',
  );
  return [...sources.flatMap((s) => parseSrcset(set(s), attr(s, 'media') ?? '')), ...parseSrcset(set(node))];
}

/** A side in CSS pixels by its `style` or its attribute; null where neither says it in pixels. */
export function pixels(node: Element, property: 'width' | 'height'): number | null {
  const css = /^(\d+(?:\.\d+)?)px$/.exec(styleOf(node, property) ?? '')?.[1];
  const value = css ?? /^\s*(\d+(?:\.\d+)?)\s*(?:px)?\s*$/.exec(attr(node, property) ?? '')?.[1];
  return value === undefined || Number(value) > MOST_SHOWN ? null : Number(value);
}

/** CSS pixels of a side; what says it is larger is shown on no screen. */
const MOST_SHOWN = 100_000;
