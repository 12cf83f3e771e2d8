import type { DocumentFormat, FormatId } from '../../model/document';
import { bufferOf } from '../heads';
import { ZipFile } from '../zip/zip-file';
import { OdfPackage } from './package';
import { readOdf } from './read-odf';
import { refuseSigned, writeOdf } from './write-odf';

const open = async (bytes: Uint8Array) => new OdfPackage(await ZipFile.open(bufferOf(bytes)));

/** OpenDocument (OASIS ODF 1.3): one of its kinds, with its template's ending. */
const odf = (id: FormatId, ending: RegExp, type: RegExp): DocumentFormat => ({
  id,
  matches: ({ name, type: given }) => ending.test(name) || (given !== null && type.test(given)),
  async read(bytes) {
    const pack = await open(bytes);
    const pages = readOdf(pack).map(({ fragment, reading }) => ({ fragment, reading }));
    return { pages, notes: pack.isSigned ? [{ id: 'document.signed' }] : [] };
  },
  async picture(bytes, name) {
    return (await open(bytes)).zip.read(name);
  },
  async write(bytes, edits) {
    const pack = await open(bytes);
    refuseSigned(pack);
    const { parts, changes, refusals } = writeOdf(readOdf(pack), edits);
    return { bytes: pack.zip.withEntries(parts), changes, refusals };
  },
});

export const odt = odf('odt', /\.(?:odt|ott)$/i, /opendocument\.text/i);
export const odp = odf('odp', /\.(?:odp|otp)$/i, /opendocument\.presentation/i);
export const ods = odf('ods', /\.(?:ods|ots)$/i, /opendocument\.spreadsheet/i);
