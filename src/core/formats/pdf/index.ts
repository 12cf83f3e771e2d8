import type { DocumentFormat } from '../../model/document';
import { DocumentError } from '../document-error';
import { bufferOf } from '../heads';

/**
 * PDF (ISO 32000-1). Its libraries are large and are loaded with the first file; a hostile one may keep them busy or eat
 * memory, so it is read in a process that can be killed.
 */
export const pdf: DocumentFormat = {
  id: 'pdf',
  matches: ({ name, type, bytes }) =>
    /\.pdf$/i.test(name) ||
    (type !== null && /^application\/pdf\b/i.test(type)) ||
    bufferOf(bytes).subarray(0, 5).toString('latin1') === '%PDF-',
  async read(bytes) {
    const { readPdf } = await import('./read-pdf');
    const { pages, notes } = await readPdf(bufferOf(bytes));
    return { pages, notes };
  },
  async picture(bytes, name) {
    const { parsePictureName } = await import('./read-pdf');
    const at = parsePictureName(name);
    if (!at) throw new DocumentError({ id: 'document.no-part', values: { part: name } });
    const { paintedPicture } = await import('./painted');
    return paintedPicture(bufferOf(bytes), at.page, at.index);
  },
  async write(bytes, edits) {
    const { writePdf } = await import('./write-pdf');
    return writePdf(bufferOf(bytes), edits);
  },
};
