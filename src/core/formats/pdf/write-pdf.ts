import { PDFHexString, PDFName, type PDFDict, type PDFDocument, type PDFRef } from '@cantoo/pdf-lib';
import type { Change, Edit, Refusal, WrittenDocument } from '../../model/document';
import { DocumentError } from '../document-error';
import { refusedParts } from '../refused-parts';
import { readPdf } from './read-pdf';

/** Bytes at the end of a file in which its last cross-reference is named. */
const TAIL = 2_048;

/**
 * Puts words into the figures of a tagged PDF by an incremental update (ISO 32000-1, 7.5.6): the file as it was is an exact
 * prefix of what comes out.
 *
 * @throws DocumentError when it is signed, untagged, or damaged
 */
export async function writePdf(bytes: Buffer, edits: readonly Edit[]): Promise<WrittenDocument> {
  const { structure, figures, pages } = await readPdf(bytes);
  if (structure.isSigned) throw new DocumentError({ id: 'document.signed' });
  if (!structure.isTagged) throw new DocumentError({ id: 'document.untagged-write' });
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  const objects = new Map<PDFRef, PDFDict>();
  for (const edit of edits) {
    const { order, text } = edit;
    const a = pages[0]!.reading.appearances[order];
    if (!a) throw new RangeError(`The document has no appearance ${order}.`);
    const figure = figures[order];
    const refuse = (part: Refusal['part'], id: string) => refusals.push({ order, line: 0, part, reason: { id } });
    for (const refused of refusedParts(edit)) refusals.push({ order, line: 0, ...refused });
    if (text === undefined) continue;
    if (!figure) refuse('attributes', 'refusal.untagged');
    else if (text === '') refuse('attributes', 'refusal.pdf-decorative');
    else if (!figure.ref) refuse('attributes', 'refusal.pdf-direct');
    else if (figure.alt !== text) {
      const before = figure.element.toString();
      figure.element.set(PDFName.of('Alt'), PDFHexString.fromText(text));
      objects.set(figure.ref, figure.element);
      const words = { before: a.accessible.name, after: text };
      const shown = { before: before.slice(0, 2_000), after: figure.element.toString().slice(0, 2_000) };
      changes.push({ order, part: 'attributes', line: 0, ...shown, words, file: figure.ref.toString() });
    }
  }
  return { bytes: objects.size > 0 ? appendUpdate(bytes, structure.document, objects) : bytes, changes, refusals };
}

/** Objects, a cross-reference of the file's own kind, and a trailer, behind the file as it is. */
function appendUpdate(bytes: Buffer, { context }: PDFDocument, objects: ReadonlyMap<PDFRef, PDFDict>): Buffer {
  const tail = bytes.subarray(Math.max(0, bytes.length - TAIL)).toString('latin1');
  const previous = Number([...tail.matchAll(/startxref\s+(\d+)\s+%%EOF/g)].at(-1)?.[1] ?? NaN);
  const there = bytes.subarray(previous, previous + 40).toString('latin1');
  const isTable = /^\s*xref\b/.test(there);
  // Offsets count from the beginning of the file only where nothing stands before its header.
  const isSound = bytes.indexOf('%PDF-') === 0 && (isTable || /^\s*\d+ \d+ obj\b/.test(there));
  if (!isSound) throw new DocumentError({ id: 'document.damaged' });
  const out: Buffer[] = [bytes];
  let at = bytes.length;
  const put = (piece: Buffer | string) => {
    const own = typeof piece === 'string' ? Buffer.from(piece, 'latin1') : piece;
    out.push(own);
    at += own.length;
  };
  if (!/[\r\n]/.test(String.fromCharCode(bytes.at(-1)!))) put('\n');
  const entries: { number: number; at: number; generation: number }[] = [];
  for (const [ref, object] of objects) {
    entries.push({ number: ref.objectNumber, at, generation: ref.generationNumber });
    const body = Buffer.alloc(object.sizeInBytes());
    object.copyBytesInto(body, 0);
    put(`${ref.objectNumber} ${ref.generationNumber} obj\n`);
    put(body);
    put('\nendobj\n');
  }
  entries.sort((a, b) => a.number - b.number);
  const start = at;
  const size = context.largestObjectNumber + 1;
  const { Root, Info, ID } = context.trailerInfo;
  const common = (count: number) =>
    `/Size ${count}\n/Root ${Root}\n${Info ? `/Info ${Info}\n` : ''}${ID ? `/ID ${ID}\n` : ''}/Prev ${previous}\n`;
  if (isTable) {
    put('xref\n');
    for (const e of entries)
      put(`${e.number} 1\n${String(e.at).padStart(10, '0')} ${String(e.generation).padStart(5, '0')} n \n`);
    put(`trailer\n<<\n${common(size)}>>\n`);
  } else {
    // The stream is an object itself, and stands in its own table (7.5.8).
    const rows = [...entries, { number: size, at: start, generation: 0 }];
    const data = Buffer.alloc(rows.length * 7);
    rows.forEach((e, i) => {
      data.writeUInt8(1, i * 7);
      data.writeUInt32BE(e.at, i * 7 + 1);
      data.writeUInt16BE(e.generation, i * 7 + 5);
    });
    const index = rows.map((e) => `${e.number} 1`).join(' ');
    put(
      `${size} 0 obj\n<<\n/Type /XRef\n/W [1 4 2]\n/Index [${index}]\n/Length ${data.length}\n${common(size + 1)}>>\nstream\n`,
    );
    put(data);
    put('\nendstream\nendobj\n');
  }
  put(`startxref\n${start}\n%%EOF\n`);
  return Buffer.concat(out);
}
