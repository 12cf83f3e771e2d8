import type { BookMetadata } from '../../model/document';
import type { Message } from '../../model/message';
import type { Splice } from '../splice';
import { setContent, xmlText } from '../xml/edit-xml';
import { attributeOf, childrenOf, textBelow, type XmlElement } from '../xml/xml-tree';
import type { Epub } from './read-epub';

const FEATURE = 'schema:accessibilityFeature';
const SUMMARY = 'schema:accessibilitySummary';
const ALTERNATIVES = 'alternativeText';

/** What a book whose pictures all have words or are decorative can say of itself, by primary language. */
const SUMMARIES: Readonly<Record<string, string>> = {
  en: 'All images have alternative text or are marked as decorative.',
  de: 'Alle Bilder haben einen Alternativtext oder sind als dekorativ gekennzeichnet.',
  fr: 'Toutes les images ont un texte de remplacement ou sont signalées comme décoratives.',
  es: 'Todas las imágenes tienen texto alternativo o están marcadas como decorativas.',
  it: 'Tutte le immagini hanno un testo alternativo o sono contrassegnate come decorative.',
  nl: 'Alle afbeeldingen hebben een tekstalternatief of zijn als decoratief gemarkeerd.',
  pt: 'Todas as imagens têm texto alternativo ou estão marcadas como decorativas.',
};

/** What is put into a package document, and what people should know of it. */
interface MetadataChange {
  splices: Splice[];
  warnings: Message[];
}

export const NOTHING: MetadataChange = { splices: [], warnings: [] };

/**
 * The accessibility metadata of a book whose pictures all have words or a decision: the feature `alternativeText` and a
 * summary (EPUB Accessibility 1.1, 2.2). What the book says already stays; a summary that is not added is proposed.
 */
export function accessibilityMetadata(book: Epub, { adds, summary }: BookMetadata): MetadataChange {
  const { metadata } = book;
  if (adds === 'nothing' || metadata.isEmpty) return NOTHING;
  const values = (name: string) =>
    childrenOf(metadata)
      .filter((e) => (attributeOf(e, 'property') ?? attributeOf(e, 'name')) === name)
      .map((e) => (attributeOf(e, 'content') ?? textBelow(e)).trim());
  const added: string[] = [];
  const warnings: Message[] = [];
  if (!values(FEATURE).includes(ALTERNATIVES)) {
    added.push(metaOf(book, FEATURE, ALTERNATIVES));
    warnings.push({ id: 'document.epub-feature' });
  }
  if (values(SUMMARY).length === 0) {
    const text = summary || ownSummary(metadata);
    if (adds === 'summary') added.push(metaOf(book, SUMMARY, text));
    warnings.push({
      id: adds === 'summary' ? 'document.epub-summary' : 'document.epub-summary-proposed',
      values: { text },
    });
  }
  if (added.length === 0) return { splices: [], warnings };
  const newline = book.opf.text.includes('\r\n') ? '\r\n' : '\n';
  const text = added.map((markup) => `  ${markup}${newline}`).join('');
  return { splices: [{ start: metadata.closeStart, end: metadata.closeStart, text }], warnings };
}

/** The time of the last change (EPUB 3.3, 5.4.1); books of before have none. */
export function modifiedSplices({ metadata, opf, version }: Epub, modified: string): Splice[] {
  if (!version.startsWith('3')) return [];
  const own = childrenOf(metadata).find(
    (e) => attributeOf(e, 'property') === 'dcterms:modified' && attributeOf(e, 'refines') === null,
  );
  return own ? [setContent(own, xmlText(modified), opf.text)] : [];
}

function ownSummary(metadata: XmlElement): string {
  const language = childrenOf(metadata).find((e) => e.local === 'language');
  const primary = language ? textBelow(language).trim().toLowerCase().split('-')[0]! : 'en';
  return SUMMARIES[primary] ?? SUMMARIES['en']!;
}

/** A property in the way of the book's version: EPUB 3 keeps the value as text, EPUB 2 in an attribute. */
function metaOf({ metadata, version }: Epub, property: string, value: string): string {
  const sibling = childrenOf(metadata).find((e) => e.local === 'meta');
  const name = sibling?.name ?? (metadata.prefix ? `${metadata.prefix}:meta` : 'meta');
  const text = xmlText(value);
  return version.startsWith('3')
    ? `<${name} property="${property}">${text}</${name}>`
    : `<${name} name="${property}" content="${text.replace(/"/g, '&quot;')}"/>`;
}
