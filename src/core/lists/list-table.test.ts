import { csvLine } from './list-table';

// RFC 4180, 2.5 to 2.7.
test('cells with commas, quotes and line breaks are quoted', () =>
  expect(csvLine(['aaa', 'b "bb"', 'c,c', 'd\r\nd', null, 404])).toBe('aaa,"b ""bb""","c,c","d\r\nd",,404\r\n'));

// OWASP, "CSV Injection" (from memory).
test.each(['=1+1', '+1', '-1', '@SUM(A1)', '\t=1', ' =1', '＝1'])('%j computes nothing', (cell) =>
  expect(csvLine([cell]).replace(/^"/, '').startsWith("'")).toBe(true),
);
