/**
 * One line of a table (RFC 4180). Cells that a spreadsheet would take for a formula get an apostrophe in front,
 * so that an address or a text from a hostile page computes nothing.
 */
export function csvLine(cells: readonly (string | number | null)[]): string {
  return `${cells.map(cell).join(',')}\r\n`;
}

function cell(value: string | number | null): string {
  if (value === null) return '';
  const text = typeof value === 'string' && /^\s*[=+\-@\t\r＝＋－＠]/.test(value) ? `'${value}` : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
