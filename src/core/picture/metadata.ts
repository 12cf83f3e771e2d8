import { SaxesParser } from 'saxes';
import type { Rights } from '../model/picture-analysis';

/** What a picture's file says about itself; a field that it does not have is not there. */
export interface PictureMetadata {
  title?: Said;
  description?: Said;
  /** Free text of whoever or whatever made the file: often a program's own, and no description. */
  comment?: Said;
  creator?: Said;
  credit?: Said;
  copyright?: Said;
  /** Address or terms of the licence. */
  licence?: Said;
  /** Web statement of rights. */
  statement?: Said;
  /** Alt Text (Accessibility). */
  alt?: Said;
  /** Extended Description (Accessibility). */
  extended?: Said;
  keywords?: Said;
  /** When it was taken, as written there: `2024-05-14 09:12`. */
  taken?: Said;
  /** Latitude and longitude in degrees. */
  place?: Said;
}
export type MetadataField = keyof PictureMetadata;

export interface Said {
  text: string;
  /** The standard it is written by. */
  by: 'XMP' | 'IPTC' | 'EXIF' | 'PNG' | 'SVG';
}

const MAX_TEXT = 4000;

/** First come, first kept: earlier sources are the better ones. */
export function mergeMetadata(...all: readonly PictureMetadata[]): PictureMetadata {
  return Object.assign({}, ...[...all].reverse()) as PictureMetadata;
}

const inOneLine = (text: string) => text.replace(/\s+/g, ' ').trim();
/** An extended description is a text of several lines; all else is one. */
const inLines = (text: string) =>
  text
    .split(/\r\n?|\n/)
    .map(inOneLine)
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();

function collect(by: Said['by'], pairs: Iterable<readonly [MetadataField, string | undefined]>): PictureMetadata {
  const out: PictureMetadata = {};
  for (const [field, raw] of pairs) {
    const text = (field === 'extended' ? inLines : inOneLine)(raw?.replace(/\0/g, '') ?? '').slice(0, MAX_TEXT);
    if (text) out[field] ??= { text, by };
  }
  return out;
}

const XMP_FIELDS: Record<string, MetadataField> = {
  'http://purl.org/dc/elements/1.1/ title': 'title',
  'http://purl.org/dc/elements/1.1/ description': 'description',
  'http://purl.org/dc/elements/1.1/ creator': 'creator',
  'http://purl.org/dc/elements/1.1/ rights': 'copyright',
  'http://purl.org/dc/elements/1.1/ subject': 'keywords',
  'http://ns.adobe.com/photoshop/1.0/ Credit': 'credit',
  'http://ns.adobe.com/xap/1.0/rights/ UsageTerms': 'licence',
  'http://ns.adobe.com/xap/1.0/rights/ WebStatement': 'statement',
  'http://creativecommons.org/ns# license': 'licence',
  'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/ AltTextAccessibility': 'alt',
  'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/ ExtDescrAccessibility': 'extended',
  'http://ns.adobe.com/photoshop/1.0/ DateCreated': 'taken',
};
const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';
const XML = 'http://www.w3.org/XML/1998/namespace';
const MAX_DEPTH = 200;

/**
 * Fields of an XMP packet (ISO 16684-1; IPTC Photo Metadata Standard 2021.1), as attributes or elements; of language
 * alternatives the default, of lists all. Also of the RDF that stands in an SVG. Entities are not expanded; what cannot
 * be read ends the reading, and what was read before stays.
 */
export function readXmp(packet: string): PictureMetadata {
  const found: [MetadataField, string][] = [];
  const parser = new SaxesParser({ xmlns: true, fragment: false });
  let field: MetadataField | null = null;
  let fieldDepth = 0;
  let depth = 0;
  let items: { text: string; lang: string | null }[] = [];
  let text = '';
  let lang: string | null = null;
  parser.on('opentag', (tag) => {
    if (++depth > MAX_DEPTH) throw new Error('too deep');
    const own = XMP_FIELDS[`${tag.uri} ${tag.local}`];
    if (own && !field) {
      field = own;
      fieldDepth = depth;
      items = [];
      const resource = Object.values(tag.attributes).find((a) => a.uri === RDF && a.local === 'resource');
      if (resource) items.push({ text: resource.value, lang: null });
    } else if (tag.local === 'Description' && tag.uri === RDF)
      for (const a of Object.values(tag.attributes)) {
        const named = XMP_FIELDS[`${a.uri} ${a.local}`];
        if (named) found.push([named, a.value]);
      }
    if (tag.local === 'li' && tag.uri === RDF)
      lang = Object.values(tag.attributes).find((a) => a.uri === XML && a.local === 'lang')?.value ?? null;
    text = '';
  });
  parser.on('text', (t) => {
    if (field && text.length < MAX_TEXT) text += t;
  });
  parser.on('closetag', (tag) => {
    if (field && text.trim() && (depth === fieldDepth || (tag.uri === RDF && tag.local === 'li') || depth > fieldDepth))
      items.push({ text, lang });
    if (field && depth === fieldDepth) {
      const best = items.find((i) => i.lang === 'x-default') ?? items[0];
      const all = field === 'creator' || field === 'keywords' ? items.map((i) => i.text.trim()).join(', ') : best?.text;
      if (all) found.push([field, all]);
      field = null;
    }
    text = '';
    lang = null;
    depth--;
  });
  try {
    parser.write(packet.replace(/^\ufeff/, '').trim()).close();
  } catch {
    // Of a damaged packet, what stands before the damage counts.
  }
  return collect('XMP', found);
}

/** IPTC IIM 4.2, record 2: the data sets that picture desks fill in. */
const IIM_FIELDS: Record<number, MetadataField> = {
  5: 'title',
  25: 'keywords',
  80: 'creator',
  110: 'credit',
  116: 'copyright',
  120: 'description',
};

/**
 * Fields of an IPTC IIM block, bare or inside a Photoshop resource block (`8BIM`, id 0x0404).
 *
 * @param bytes as the picture library hands it out
 */
export function readIptc(bytes: Uint8Array): PictureMetadata {
  const found = new Map<MetadataField, string[]>();
  let utf8 = false;
  const begin = iimStart(bytes);
  for (let at = begin; at + 5 <= bytes.length && bytes[at] === 0x1c;) {
    const [record, set] = [bytes[at + 1]!, bytes[at + 2]!];
    const length = (bytes[at + 3]! << 8) | bytes[at + 4]!;
    // Extended lengths are for objects, not for text.
    if (length > 0x7fff) break;
    const value = bytes.subarray(at + 5, at + 5 + length);
    at += 5 + length;
    // 1:90, coded character set: ESC % G announces UTF-8.
    if (record === 1 && set === 90) utf8 = value[0] === 0x1b && value[1] === 0x25 && value[2] === 0x47;
    const field = record === 2 ? IIM_FIELDS[set] : undefined;
    if (!field) continue;
    const text = decodeText(value, utf8);
    found.set(field, [...(found.get(field) ?? []), text]);
  }
  return collect(
    'IPTC',
    [...found].map(
      ([field, texts]) => [field, field === 'keywords' || field === 'creator' ? texts.join(', ') : texts[0]] as const,
    ),
  );
}

function iimStart(bytes: Uint8Array): number {
  if (bytes[0] === 0x1c) return 0;
  for (let at = 0; at + 12 < bytes.length; at++)
    if (
      bytes[at] === 0x38 &&
      bytes[at + 1] === 0x42 &&
      bytes[at + 2] === 0x49 &&
      bytes[at + 3] === 0x4d &&
      bytes[at + 4] === 4 &&
      bytes[at + 5] === 4
    ) {
      const name = bytes[at + 6]! + 1;
      return at + 6 + name + (name % 2) + 4;
    }
  return bytes.length;
}

/** UTF-8 where it is announced or well formed, else Latin-1. */
function decodeText(value: Uint8Array, utf8: boolean): string {
  try {
    return new TextDecoder('utf-8', { fatal: !utf8 }).decode(value);
  } catch {
    return String.fromCharCode(...value);
  }
}

/** What an EXIF reader hands out, as far as it is of use here (EXIF 2.32, 4.6.4 and 4.6.6). */
export interface ExifTags {
  Image?: { ImageDescription?: unknown; Artist?: unknown; Copyright?: unknown };
  Photo?: { DateTimeOriginal?: unknown };
  GPSInfo?: { GPSLatitude?: unknown; GPSLatitudeRef?: unknown; GPSLongitude?: unknown; GPSLongitudeRef?: unknown };
}

export function readExif({ Image = {}, Photo = {}, GPSInfo = {} }: ExifTags): PictureMetadata {
  // What is not ASCII is handed out as bytes.
  const text = (value: unknown) =>
    typeof value === 'string' ? value : value instanceof Uint8Array ? decodeText(value, false) : undefined;
  const { DateTimeOriginal: at } = Photo;
  const lat = degrees(GPSInfo.GPSLatitude, GPSInfo.GPSLatitudeRef, 90);
  const lon = degrees(GPSInfo.GPSLongitude, GPSInfo.GPSLongitudeRef, 180);
  return collect('EXIF', [
    ['description', text(Image.ImageDescription)],
    ['creator', text(Image.Artist)],
    ['copyright', text(Image.Copyright)],
    // The camera's clock has no zone; readers hand it out as if it were universal time.
    [
      'taken',
      at instanceof Date && !Number.isNaN(at.getTime()) ? at.toISOString().slice(0, 16).replace('T', ' ') : undefined,
    ],
    ['place', lat === null || lon === null ? undefined : `${lat.toFixed(5)}, ${lon.toFixed(5)}`],
  ]);
}

function degrees(value: unknown, ref: unknown, most: number): number | null {
  if (!Array.isArray(value) || value.length < 2 || !value.every((v) => typeof v === 'number' && Number.isFinite(v)))
    return null;
  const [d, m, s = 0] = value as number[];
  const all = d! + m! / 60 + s / 3600;
  return all > most ? null : ref === 'S' || ref === 'W' ? -all : all;
}

const PNG_FIELDS: Record<string, MetadataField> = {
  title: 'title',
  description: 'description',
  comment: 'comment',
  author: 'creator',
  copyright: 'copyright',
};

/** Text chunks of a PNG (PNG 11.3.3): predefined keywords. */
export function readPngText(chunks: readonly { keyword: string; text: string }[]): PictureMetadata {
  return collect(
    'PNG',
    chunks.flatMap(({ keyword, text }) => {
      const field = PNG_FIELDS[keyword.toLowerCase()];
      return field ? [[field, text] as const] : [];
    }),
  );
}

/** Title and description of an SVG's root (SVG 2, 5.8), and the RDF in its metadata. */
export function readSvg(source: string): PictureMetadata {
  const found: [MetadataField, string][] = [];
  const parser = new SaxesParser({ xmlns: false });
  const path: string[] = [];
  let text = '';
  parser.on('opentag', (tag) => {
    path.push(tag.name.replace(/^svg:/, ''));
    if (path.length > MAX_DEPTH) throw new Error('too deep');
    if (path.length === 2) text = '';
  });
  parser.on('text', (t) => {
    if (path.length === 2 && text.length < MAX_TEXT) text += t;
  });
  parser.on('closetag', () => {
    const name = path.pop();
    if (path.length === 1 && name === 'title') found.push(['title', text]);
    if (path.length === 1 && name === 'desc') found.push(['description', text]);
  });
  try {
    parser.write(source.replace(/^\ufeff/, '').trim()).close();
  } catch {
    // As far as it could be read.
  }
  const rdf = /<(\w+:)?RDF[\s>]/.test(source) ? readXmp(source) : {};
  return mergeMetadata(collect('SVG', found), rdf);
}

/** Names by which software and cameras sign, addresses, and names with a version; they describe nothing. */
const NO_WORDS =
  /^(?:olympus digital camera|created with .*|screenshot|sony dsc|samsung|minolta digital camera|kodak digital still camera|hp photosmart.*|dav|dcim|untitled|image|default|charset=.*|lead technologies.*|optimized by .*|window class:.*|.*\(window id\b.*|.*\s\d+\.\d+|(?:https?:\/\/|www\.)\S+|\S+@\S+\.\S+)$/i;

/**
 * Measures, techniques and inventory numbers of an object, as museums catalogue it, in the languages of the word lists
 * (common practice).
 */
const OBJECT =
  /\d+(?:[.,]\d+)?\s*[x×]\s*\d+(?:[.,]\d+)?\s*(?:[x×]\s*\d+(?:[.,]\d+)?\s*)?(?:cm|mm|in\b|inches)|(?<!\p{L})(?:oil|tempera|watercolou?r|gouache|pastel) on |(?<!\p{L})(?:öl|aquarell|tempera) auf |(?<!\p{L})(?:huile|gouache|aquarelle) sur |(?<!\p{L})(?:óleo|temple) sobre |(?<!\p{L})olio su |(?<!\p{L})olieverf op |(?<!\p{L})(?:inv|acc)(?:entory|ession)?\.?\s*(?:no|nr|number)\b/iu;

/** The words that were meant to be heard or read in place of the picture: the alt text, else the description, else the title. */
export function wordsIn(m: PictureMetadata): { words: string; from: MetadataField } | null {
  for (const from of ['alt', 'description', 'title'] as const) {
    const words = m[from]?.text;
    // What a catalogue says of an object, beside its title, is for those who look after it.
    const isCatalogue = from === 'description' && !!words && OBJECT.test(words) && !!m.title;
    if (words && !isCatalogue && !NO_WORDS.test(words) && /\p{L}{2}/u.test(words)) return { words, from };
  }
  return null;
}

export function rightsIn(m: PictureMetadata): Rights | null {
  const rights = {
    creator: m.creator?.text ?? null,
    credit: m.credit?.text ?? null,
    copyright: m.copyright?.text ?? null,
    licence: m.licence?.text ?? m.statement?.text ?? null,
  };
  return Object.values(rights).some((r) => r !== null) ? rights : null;
}
