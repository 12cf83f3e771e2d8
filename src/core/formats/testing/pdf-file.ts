/** An object of a PDF: its number and what it is. */
export type PdfObject = [number: number, body: string];

/** The header and the objects of a PDF, one after the other, with the byte that each begins at by its number. */
export function pdfBody(objects: readonly PdfObject[]): { body: string; offsets: number[] } {
  let body = '%PDF-1.7\n';
  const offsets: number[] = [];
  for (const [number, object] of objects) {
    offsets[number] = body.length;
    body += `${number} 0 obj\n${object}\nendobj\n`;
  }
  return { body, offsets };
}

/**
 * A PDF of these objects, of which the first is the catalogue, with a table of them (ISO 32000-1, 7.5.4).
 *
 * @param trailer what else its trailer says, given the byte that the table begins at
 */
export function pdfFile(objects: readonly PdfObject[], trailer: (table: number) => string = () => ''): Buffer {
  const { body, offsets } = pdfBody(objects);
  const last = Math.max(...objects.map(([number]) => number));
  let table = `xref\n0 ${last + 1}\n0000000000 65535 f \n`;
  for (let n = 1; n <= last; n++)
    table += offsets[n] ? `${String(offsets[n]).padStart(10, '0')} 00000 n \n` : '0000000000 65535 f \n';
  const end = `trailer\n<< /Size ${last + 1} /Root 1 0 R ${trailer(body.length)} >>\nstartxref\n${body.length}\n%%EOF`;
  return Buffer.from(body + table + end, 'latin1');
}
