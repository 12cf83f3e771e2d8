import { storable } from './bulk';

// PostgreSQL's jsonb takes neither NUL nor halves of surrogate pairs (documentation, 8.14).
test.each([
  ['a\0b', '"a\ufffdb"'],
  ['\ud83d', '"\ufffd"'],
  ['\ude00 alone', '"\ufffd alone"'],
  ['\ud83d\ude00', '"\ud83d\ude00"'],
  ['C:\\u0000', '"C:\\\\u0000"'],
  ['\\\0', '"\\\\\ufffd"'],
])('%j is stored as %s', (text, json) => {
  expect(storable(text)).toBe(json);
  expect(() => JSON.parse(storable(text)) as unknown).not.toThrow();
});
