import { Readable } from 'node:stream';
import { attachment, fileResponse, type ServedFile } from './downloads';

/** A file in whole and in parts, as RFC 9110 says in section 14. */
const BYTES = Buffer.from('0123456789');
const FILE: ServedFile = {
  ...{ name: 'pages.zip', bytes: BYTES.length, etag: '"7-10"' },
  open: (start, end) => Readable.from([BYTES.subarray(start, end + 1)]),
};
const asked = (headers: Record<string, string>, file = FILE) =>
  fileResponse(new Request('http://isle.example/file', { headers }), file);

test('all of it, with what is needed to go on later', async () => {
  const answer = asked({});
  expect([answer.status, await answer.text()]).toEqual([200, '0123456789']);
  expect(Object.fromEntries(answer.headers)).toMatchObject({
    ...{ 'accept-ranges': 'bytes', 'content-length': '10', etag: '"7-10"' },
    ...{ 'content-type': 'application/zip', 'content-disposition': attachment('pages.zip') },
  });
});

test.each([
  ['bytes=2-4', 'bytes 2-4/10', '234'],
  ['bytes=7-', 'bytes 7-9/10', '789'],
  ['bytes=-2', 'bytes 8-9/10', '89'],
  ['bytes=5-99', 'bytes 5-9/10', '56789'],
])('%s is answered with that part', async (range, said, text) => {
  const answer = asked({ range });
  expect([answer.status, answer.headers.get('content-range'), await answer.text()]).toEqual([206, said, text]);
  expect(answer.headers.get('content-length')).toBe(String(text.length));
});

test('a part of another file than the one that was begun is not given (RFC 9110, 13.1.5)', async () => {
  expect(asked({ range: 'bytes=2-4', 'if-range': '"7-10"' }).status).toBe(206);
  expect(asked({ range: 'bytes=2-4', 'if-range': '"6-10"' }).status).toBe(200);
});

test('what is not there is refused; what is not understood, and several parts at once, are answered with all', async () => {
  const beyond = asked({ range: 'bytes=10-12' });
  expect([beyond.status, beyond.headers.get('content-range')]).toEqual([416, 'bytes */10']);
  for (const range of ['lines=1-2', 'bytes=0-1,4-5']) expect(asked({ range }).status).toBe(200);
  const empty = asked({}, { ...FILE, bytes: 0 });
  expect([empty.status, await empty.text()]).toEqual([200, '']);
});

test('a name is said in every alphabet (RFC 6266, 5)', () =>
  expect(attachment('Fähre "1".zip')).toBe(
    `attachment; filename="F_hre _1_.zip"; filename*=UTF-8''F%C3%A4hre%20%221%22.zip`,
  ));
