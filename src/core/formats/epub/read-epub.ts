import path from 'node:path/posix';
import type { Message } from '../../model/message';
import type { PageReading } from '../../model/page';
import { DocumentError } from '../document-error';
import { decodedPath } from '../html/decoded-path';
import { readParsed } from '../html/read-page';
import { numberPlaces } from '../unique-places';
import { decodeXml, type XmlSource } from '../xml/xml-part';
import {
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  parseXml,
  rootOf,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import { xhtmlTree, XHTML_ENTITIES } from '../xml/xhtml';
import type { ZipFile } from '../zip/zip-file';

const MOST_CHAPTERS = 10_000;
/** Obfuscated fonts are no protection of the text (EPUB 3.3, 4.3.2; and the older way of one reading system). */
const FONTS_ONLY = /idpf\.org\/2008\/embedding|ns\.adobe\.com\/pdf\/enc#RC$/;
const CHAPTER = /^(?:application\/xhtml\+xml|image\/svg\+xml)$/;

export interface EpubPart extends XmlSource {
  name: string;
  root: XmlElement;
}

export interface EpubChapter {
  fragment: string;
  part: EpubPart;
  reading: PageReading;
  /** By `Appearance.order`. */
  elements: XmlElement[];
}

/** A book in memory: its package document and its chapters in reading order. */
export interface Epub {
  zip: ZipFile;
  opf: EpubPart;
  metadata: XmlElement;
  version: string;
  chapters: EpubChapter[];
  isSigned: boolean;
  notes: Message[];
}

function partOf(zip: ZipFile, name: string): EpubPart {
  const source = decodeXml(zip.read(name), name);
  return { name, ...source, root: rootOf(parseXml(source.text, name, { entities: XHTML_ENTITIES })) };
}

/** @throws DocumentError when what is inside may not be read without a licence */
function refuseProtected(zip: ZipFile): void {
  if (!zip.has('META-INF/encryption.xml')) return;
  for (const e of descendantsOf(partOf(zip, 'META-INF/encryption.xml').root))
    if (e.local === 'EncryptionMethod' && !FONTS_ONLY.test(attributeOf(e, 'Algorithm') ?? ''))
      throw new DocumentError({ id: 'document.drm' });
}

/**
 * Reads an EPUB 2 or 3 (EPUB 3.3; OPF 2.0.1): every content document of its spine in its order, then those beside it.
 *
 * @throws DocumentError when it is none, or is protected
 */
export function readEpub(zip: ZipFile): Epub {
  if (!zip.has('META-INF/container.xml')) throw new DocumentError({ id: 'document.not-epub' });
  refuseProtected(zip);
  const container = partOf(zip, 'META-INF/container.xml');
  const file = findBelow(container.root, 'rootfile');
  const name = (file && attributeOf(file, 'full-path')) ?? '';
  if (!zip.has(name)) throw new DocumentError({ id: 'document.not-epub' });
  const opf = partOf(zip, name);
  const metadata = childOf(opf.root, 'metadata');
  const manifest = childOf(opf.root, 'manifest');
  if (!metadata || !manifest) throw new DocumentError({ id: 'document.not-epub' });
  const value = (local: string) =>
    textBelow(childrenOf(metadata).find((e) => e.local === local) ?? metadata.parent!).trim();
  const [title, lang] = [
    childOf(metadata, 'title') ? value('title') : '',
    childOf(metadata, 'language') ? value('language') : null,
  ];
  const notes: Message[] = zip.startsWithStored('mimetype') ? [] : [{ id: 'document.mimetype-late' }];
  const isSigned = zip.has('META-INF/signatures.xml');
  if (isSigned) notes.push({ id: 'document.signed' });
  const chapters: EpubChapter[] = [];
  for (const part of contentDocuments(opf, manifest).slice(0, MOST_CHAPTERS)) {
    if (!zip.has(part)) continue;
    try {
      chapters.push(readChapter(partOf(zip, part), `chapter=${chapters.length + 1}`, title, lang));
    } catch (error) {
      if (!(error instanceof DocumentError)) throw error;
      notes.push({ id: 'document.part-unreadable', values: { part, reason: error.reason } });
    }
  }
  return { zip, opf, metadata, version: attributeOf(opf.root, 'version') ?? '2.0', chapters, isSigned, notes };
}

/** Names of the content documents, by the spine first. */
function contentDocuments(opf: EpubPart, manifest: XmlElement): string[] {
  const items = new Map(
    childrenOf(manifest)
      .filter((e) => CHAPTER.test(attributeOf(e, 'media-type') ?? ''))
      .map((e) => [attributeOf(e, 'id') ?? '', nameAt(opf.name, attributeOf(e, 'href') ?? '')]),
  );
  const spine = childOf(opf.root, 'spine');
  const inOrder = (spine ? childrenOf(spine) : []).flatMap((e) => items.get(attributeOf(e, 'idref') ?? '') ?? []);
  // Pictures as SVG files are listed like chapters, and are none of the spine's.
  const beside = [...items.values()].filter((name) => !/\.svg$/i.test(name));
  return [...new Set([...inOrder, ...beside])];
}

/** The entry that a reference from another one names. */
const nameAt = (from: string, href: string): string => path.join(path.dirname(from), decodedPath(href.split('#')[0]!));

function readChapter(part: EpubPart, fragment: string, book: string, lang: string | null): EpubChapter {
  const tree = xhtmlTree(part.root.parent!);
  const reading: PageReading = { charset: 'utf-8', ...readParsed(part.text, tree) };
  const elements = elementsByStart(part.root);
  const own = reading.appearances.map(({ location }) => elements.get(location.kind === 'html' ? location.start : -1)!);
  reading.appearances.forEach((a, i) => {
    const image = a.element === 'svg' ? findBelow(own[i]!, 'image') : undefined;
    const src = image ? attributeOf(image, 'href') : a.markup.src;
    // A cover is often a picture in a frame of SVG.
    if (image) a.markup.svg = null;
    a.markup.src = src === null || /^[a-z][a-z0-9+.-]*:/i.test(src) ? src : nameAt(part.name, src);
    a.context.lang ??= lang;
    a.context.wordsOnly = true;
  });
  numberPlaces(reading.appearances);
  reading.lang ??= lang;
  reading.title = [book, reading.headings[0] ?? reading.title]
    .filter((t, i, all) => t && all.indexOf(t) === i)
    .join(': ');
  return { fragment, part, reading, elements: own };
}

function elementsByStart(root: XmlElement): Map<number, XmlElement> {
  const out = new Map([[root.start, root]]);
  for (const e of descendantsOf(root)) out.set(e.start, e);
  return out;
}
