import { isCaptionStyle } from '../page-builder';
import { attributeOf, descendantsOf, findBelow } from '../xml/xml-tree';
import type { OdfPart } from './package';

/** Names of styles that say more of what has them than how it looks. */
export interface OdfStyles {
  /** Those whose graphics are marked as decorative. */
  decorative: ReadonlySet<string>;
  /** Of captions: named so, or derived from one that is. */
  captions: ReadonlySet<string>;
}

export function stylesOf(parts: readonly (OdfPart | null)[]): OdfStyles {
  const decorative = new Set<string>();
  const parents = new Map<string, string>();
  for (const part of parts)
    for (const e of part ? descendantsOf(part.root) : []) {
      if (e.local === 'graphic-properties' && attributeOf(e, 'decorative') === 'true' && e.parent)
        decorative.add(attributeOf(e.parent, 'name') ?? '');
      if (e.local === 'style' && attributeOf(e, 'family') === 'paragraph')
        parents.set(attributeOf(e, 'name') ?? '', attributeOf(e, 'parent-style-name') ?? '');
    }
  const captions = new Set<string>();
  for (const name of parents.keys()) {
    let one: string | undefined = name;
    for (let i = 0; one && i < 20; i++, one = parents.get(one)) if (isCaptionStyle(one)) captions.add(name);
  }
  return { decorative, captions };
}

/** A length in CSS pixels; null where there is none. */
export function pixels(length: string | null): number | null {
  const m = /^(-?[\d.]+)(cm|mm|in|pt|pc|px)$/.exec(length ?? '');
  if (!m) return null;
  const perUnit: Record<string, number> = { cm: 96 / 2.54, mm: 96 / 25.4, in: 96, pt: 96 / 72, pc: 16, px: 1 };
  return Number(m[1]) * perUnit[m[2]!]!;
}

/** Width and height of a page, by its master (ODF 1.3, part 3, 16.9 and 16.5). */
export function sizeOf(styles: OdfPart | null, master: string | null): { width: number; height: number } | null {
  const all = styles ? [...descendantsOf(styles.root)] : [];
  const page = all.find((e) => e.local === 'master-page' && attributeOf(e, 'name') === master);
  const layout = all.find(
    (e) => e.local === 'page-layout' && page && attributeOf(e, 'name') === attributeOf(page, 'page-layout-name'),
  );
  const properties = layout && findBelow(layout, 'page-layout-properties');
  const [width, height] = ['page-width', 'page-height'].map((n) =>
    pixels(properties ? attributeOf(properties, n) : null),
  );
  return width && height ? { width, height } : null;
}

/** The default language of paragraphs, as BCP 47. */
export function languageOf(styles: OdfPart | null): string | null {
  for (const e of styles ? descendantsOf(styles.root) : []) {
    if (e.local !== 'default-style' || attributeOf(e, 'family') !== 'paragraph') continue;
    const properties = findBelow(e, 'text-properties');
    const language = properties && attributeOf(properties, 'language');
    const country = properties && attributeOf(properties, 'country');
    if (language && language !== 'none') return country && country !== 'none' ? `${language}-${country}` : language;
  }
  return null;
}
