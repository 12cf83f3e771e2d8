import path from 'node:path';
import { createRequire } from 'node:module';
import type { PDFDocumentProxy, PDFPageProxy } from 'pdfjs-dist/types/src/display/api';
import type * as Pdfjs from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { Box } from '../../model/appearance';
import { DocumentError } from '../document-error';
import { encodePng } from './png';

/** Pixels of one picture beyond which it is not decoded. */
const MOST_PIXELS = 64_000_000;

/** A picture as it is painted on a page. */
export interface PaintedPicture {
  /** Its number among those of the page, from 1. */
  index: number;
  /** Marked content that it stands in; null where it is not tagged. */
  marked: number | null;
  isArtifact: boolean;
  box: Box;
  /** Pixels. */
  width: number;
  height: number;
}

/** What is painted on one page. */
export interface PaintedPage {
  /** In the page's own units: left, bottom, right, top. */
  view: number[];
  pictures: PaintedPicture[];
  /** By marked content: what it covers. */
  boxes: Map<number, Box>;
  /** By marked content: its text; the whole page's under -1. */
  texts: Map<number, string>;
}

export type Matrix = [number, number, number, number, number, number];
const times = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];

let library: Promise<typeof Pdfjs> | null = null;
/** Loaded when the first PDF comes: it is large. */
const pdfjs = () => (library ??= import('pdfjs-dist/legacy/build/pdf.mjs'));

/** @throws DocumentError when it cannot be read */
export async function openPainted(bytes: Buffer): Promise<PDFDocumentProxy> {
  const { getDocument } = await pdfjs();
  const folder = path.dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json'));
  try {
    return await getDocument({
      // The library takes the memory for itself.
      data: new Uint8Array(bytes),
      isEvalSupported: false,
      useSystemFonts: false,
      disableFontFace: true,
      isOffscreenCanvasSupported: false,
      isImageDecoderSupported: false,
      enableXfa: false,
      maxImageSize: MOST_PIXELS,
      standardFontDataUrl: `${folder}/standard_fonts/`,
      cMapUrl: `${folder}/cmaps/`,
      cMapPacked: true,
      wasmUrl: `${folder}/wasm/`,
      verbosity: 0,
    }).promise;
  } catch (error) {
    const isLocked = (error as Error).name === 'PasswordException';
    throw new DocumentError({ id: isLocked ? 'document.encrypted' : 'document.damaged' });
  }
}

interface Visited {
  paint(
    index: number,
    name: string | null,
    inline: unknown,
    at: Matrix,
    marked: { id: number | null; isArtifact: boolean },
  ): void;
  cover(id: number, at: Matrix, bounds: [number, number, number, number]): void;
}

/** Goes through what a page paints, with the matrix and the marked content that hold there (ISO 32000-1, 8.4 and 14.6). */
async function visitPage(page: PDFPageProxy, visited: Visited): Promise<void> {
  const { OPS } = await pdfjs();
  const { fnArray, argsArray } = await page.getOperatorList();
  let matrix: Matrix = [1, 0, 0, 1, 0, 0];
  const saved: Matrix[] = [];
  const open: { id: number | null; isArtifact: boolean }[] = [];
  let index = 0;
  for (let i = 0; i < fnArray.length; i++) {
    const args = argsArray[i] as unknown[] | null;
    switch (fnArray[i]) {
      case OPS.save:
        saved.push(matrix);
        break;
      case OPS.restore:
        matrix = saved.pop() ?? matrix;
        break;
      case OPS.transform:
        matrix = times(matrix, args as unknown as Matrix);
        break;
      case OPS.paintFormXObjectBegin:
        saved.push(matrix);
        if (args?.[0]) matrix = times(matrix, args[0] as Matrix);
        break;
      case OPS.paintFormXObjectEnd:
        matrix = saved.pop() ?? matrix;
        break;
      case OPS.beginMarkedContent:
      case OPS.beginMarkedContentProps: {
        const [tag, id] = (args ?? []) as [string | { name: string }, unknown];
        const isArtifact = (typeof tag === 'string' ? tag : tag?.name) === 'Artifact';
        open.push({ id: typeof id === 'number' ? id : markedId(id), isArtifact });
        break;
      }
      case OPS.endMarkedContent:
        open.pop();
        break;
      case OPS.constructPath: {
        const marked = open.findLast((o) => o.id !== null);
        const bounds = args?.[2] as ArrayLike<number> | undefined;
        if (marked && bounds?.length === 4)
          visited.cover(marked.id!, matrix, [bounds[0]!, bounds[1]!, bounds[2]!, bounds[3]!]);
        break;
      }
      case OPS.paintImageXObject:
      case OPS.paintImageXObjectRepeat:
      case OPS.paintInlineImageXObject:
      case OPS.paintImageMaskXObject: {
        const marked = open.findLast((o) => o.id !== null);
        const isArtifact = open.some((o) => o.isArtifact);
        const name = typeof args?.[0] === 'string' ? args[0] : null;
        visited.paint(++index, name, args?.[0], matrix, { id: marked?.id ?? null, isArtifact });
        if (marked) visited.cover(marked.id!, matrix, [0, 0, 1, 1]);
      }
    }
  }
}

/** An id as the library gives it: a number, or the object of the properties. */
function markedId(id: unknown): number | null {
  const found = typeof id === 'object' && id !== null ? (id as { mcid?: unknown }).mcid : null;
  return typeof found === 'number' ? found : null;
}

/** A rectangle of the page in shares of it, from its upper left corner. */
export function boxOf(matrix: Matrix, [x0, y0, x1, y1]: [number, number, number, number], view: number[]): Box {
  const corners = [
    [x0, y0],
    [x1, y0],
    [x0, y1],
    [x1, y1],
  ].map(
    ([x, y]) => [matrix[0] * x! + matrix[2] * y! + matrix[4], matrix[1] * x! + matrix[3] * y! + matrix[5]] as const,
  );
  const [left, bottom, right, top] = view as [number, number, number, number];
  const [width, height] = [right - left || 1, top - bottom || 1];
  const xs = corners.map(([x]) => (x - left) / width);
  const ys = corners.map(([, y]) => (top - y) / height);
  const [minX, minY] = [Math.min(...xs), Math.min(...ys)];
  return { left: minX, top: minY, width: Math.max(...xs) - minX, height: Math.max(...ys) - minY };
}

export function union(a: Box | undefined, b: Box): Box {
  if (!a) return b;
  const [left, top] = [Math.min(a.left, b.left), Math.min(a.top, b.top)];
  const [right, bottom] = [Math.max(a.left + a.width, b.left + b.width), Math.max(a.top + a.height, b.top + b.height)];
  return { left, top, width: right - left, height: bottom - top };
}

/** The pictures and the text of a page. */
export async function readPainted(page: PDFPageProxy): Promise<PaintedPage> {
  const out: PaintedPage = { view: page.view, pictures: [], boxes: new Map(), texts: new Map() };
  await visitPage(page, {
    paint(index, _name, _inline, matrix, { id, isArtifact }) {
      const box = boxOf(matrix, [0, 0, 1, 1], page.view);
      const [width, height] = [Math.hypot(matrix[0], matrix[1]), Math.hypot(matrix[2], matrix[3])];
      // Points, of which there are 72 to an inch, as CSS pixels.
      out.pictures.push({
        index,
        marked: id,
        isArtifact,
        box,
        width: Math.round(width / 0.75),
        height: Math.round(height / 0.75),
      });
    },
    cover(id, matrix, bounds) {
      out.boxes.set(id, union(out.boxes.get(id), boxOf(matrix, bounds, page.view)));
    },
  });
  const content = await page.getTextContent({ includeMarkedContent: true });
  const open: number[] = [];
  const add = (id: number, text: string) => out.texts.set(id, (out.texts.get(id) ?? '') + text);
  for (const item of content.items) {
    if ('str' in item) {
      const text = item.str + (item.hasEOL ? ' ' : '');
      add(-1, text);
      const id = open.findLast((one) => one >= 0);
      if (id !== undefined) add(id, text);
    } else if (item.type === 'endMarkedContent') open.pop();
    // As `p12R_mc3`: the page's object, and the number.
    else open.push(Number(/_mc(\d+)$/.exec(item.id ?? '')?.[1] ?? -1));
  }
  return out;
}

interface Pixels {
  width: number;
  height: number;
  kind?: number;
  data?: Uint8Array | Uint8ClampedArray;
}

/**
 * A picture of a page as a PNG.
 *
 * @param index its number among those that the page paints, from 1
 * @throws DocumentError when there is none, or it cannot be decoded
 */
export async function paintedPicture(bytes: Buffer, number: number, index: number): Promise<Buffer> {
  const document = await openPainted(bytes);
  const missing = new DocumentError({ id: 'document.no-part', values: { part: `page ${number}, picture ${index}` } });
  try {
    if (!(number >= 1 && number <= document.numPages)) throw missing;
    const page = await document.getPage(number);
    let found: { name: string | null; inline: unknown } | null = null;
    await visitPage(page, {
      paint(at, name, inline) {
        if (at === index) found = { name, inline };
      },
      cover: () => undefined,
    });
    if (!found) throw missing;
    const { name, inline } = found as { name: string | null; inline: unknown };
    const image = name === null ? (inline as Pixels) : await objectOf(page, name);
    const png = image && asPng(image);
    if (!png) throw new DocumentError({ id: 'document.picture-undecodable' });
    return png;
  } finally {
    await document.loadingTask.destroy();
  }
}

const objectOf = (page: PDFPageProxy, name: string): Promise<Pixels> =>
  new Promise((resolve) => (name.startsWith('g_') ? page.commonObjs : page.objs).get(name, resolve));

/** One bit a pixel, RGB, or RGBA, by the numbers of the library. */
function asPng({ width, height, kind, data }: Pixels): Buffer | null {
  if (!data) return null;
  const pixels = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
  if (kind === 2) return encodePng(pixels, width, height, 3);
  if (kind === 3) return encodePng(pixels, width, height, 4);
  const row = (width + 7) >> 3;
  const grey = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) grey[y * width + x] = pixels[y * row + (x >> 3)]! & (0x80 >> (x & 7)) ? 255 : 0;
  return encodePng(grey, width, height, 1);
}
