import type { DocumentFormat } from '../../model/document';
import { DocumentError } from '../document-error';
import { bufferOf } from '../heads';
import { OoxmlPackage } from './package';
import { readOffice, type OfficeKind } from './read-office';
import { writeOffice } from './write-office';

/** Endings by kind; those of templates, shows and files with macros are read just the same. */
const ENDINGS: Record<OfficeKind, RegExp> = {
  docx: /\.(?:docx|docm|dotx|dotm)$/i,
  pptx: /\.(?:pptx|pptm|ppsx|ppsm|potx|potm)$/i,
  xlsx: /\.(?:xlsx|xlsm|xltx|xltm)$/i,
};
const TYPES: Record<OfficeKind, RegExp> = {
  docx: /officedocument\.wordprocessingml|ms-word\..*macroenabled/i,
  pptx: /officedocument\.presentationml|ms-powerpoint\..*macroenabled/i,
  xlsx: /officedocument\.spreadsheetml|ms-excel\..*macroenabled/i,
};

/** Office Open XML (ECMA-376, ISO/IEC 29500), transitional and strict. */
const office = (kind: OfficeKind): DocumentFormat => ({
  id: kind,
  // What a file of that name holds, an old document or a password, is for reading to say.
  matches: ({ name, type }) => ENDINGS[kind].test(name) || (type !== null && TYPES[kind].test(type)),
  async read(bytes) {
    const pack = await OoxmlPackage.open(bufferOf(bytes));
    const pages = readOffice(pack, kind).map(({ fragment, reading }) => ({ fragment, reading }));
    return { pages, notes: pack.isSigned ? [{ id: 'document.signed' }] : [] };
  },
  async picture(bytes, name) {
    return (await OoxmlPackage.open(bufferOf(bytes))).zip.read(name);
  },
  async write(bytes, edits) {
    const pack = await OoxmlPackage.open(bufferOf(bytes));
    if (pack.isSigned) throw new DocumentError({ id: 'document.signed' });
    const { parts, changes, refusals } = writeOffice(pack, readOffice(pack, kind), edits);
    return { bytes: pack.zip.withEntries(parts), changes, refusals };
  },
});

export const docx = office('docx');
export const pptx = office('pptx');
export const xlsx = office('xlsx');
