import PostalMime from 'postal-mime';
import type { DocumentError } from '../document-error';
import { PIXEL } from '../testing/packages';
import { appearancesOf, shown, writeTexts } from '../testing/round-trip';
import { mail } from './index';

/** Mail with HTML in it (RFC 5322, 2045, 2046, 2047, 2392), read again by postal-mime, a reader that is not ours. */
const HTML =
  '<p>Grüße vom Kai</p><img src="cid:p%401"><a href="https://isle.example/"><img src="cid:x" alt="Sail"></a>';
const encoded: Record<string, (html: string) => string> = {
  '8bit': (html) => Buffer.from(html).toString('latin1'),
  base64: (html) =>
    Buffer.from(html)
      .toString('base64')
      .match(/.{1,60}/g)!
      .join('\r\n'),
  'quoted-printable': (html) =>
    [...Buffer.from(html)]
      .map((b) => (b === 61 || b > 126 ? `=${b.toString(16).toUpperCase()}` : String.fromCharCode(b)))
      .join('')
      .replace(/(.{60})/g, '$1=\r\n'),
};
function message(
  encoding: keyof typeof encoded = '8bit',
  { head = '', html = HTML, type = 'multipart/related' } = {},
): Buffer {
  const lines = [
    'From: a@isle.example',
    'Subject: =?utf-8?B?R3LDvMOfZQ==?= =?utf-8?Q?_vom_Kai?=',
    'MIME-Version: 1.0',
    ...(head ? [head] : []),
    `Content-Type: ${type};`,
    ' boundary="b 1"',
    '',
    'preamble',
    '--b 1',
    'Content-Type: text/html; charset="utf-8"',
    `Content-Transfer-Encoding: ${encoding}`,
    '',
    encoded[encoding]!(html),
    '--b 1',
    'Content-Type: image/png',
    'Content-Transfer-Encoding: base64',
    'Content-ID: <p@1>',
    '',
    PIXEL.toString('base64'),
    '--b 1--',
    'epilogue',
  ];
  return Buffer.from(lines.join('\r\n'), 'latin1');
}

test('the HTML, its inline pictures and the subject are read', async () => {
  const { pages, notes } = await mail.read(message());
  expect([pages[0]!.reading.title, notes]).toEqual(['Grüße vom Kai', []]);
  const [a, b] = pages[0]!.reading.appearances;
  expect([a!.state, a!.context.before, b!.accessible.name, b!.context.control?.href]).toEqual([
    'missing',
    'Grüße vom Kai',
    'Sail',
    'https://isle.example/',
  ]);
  expect(Buffer.from(await mail.picture!(message(), a!.markup.src!)).equals(PIXEL)).toBe(true);
  expect(await mail.markup!(message('base64'), null)).toBe(HTML);
});

test.each(Object.keys(encoded))('words are put into HTML in %s, and nothing else changes', async (encoding) => {
  const bytes = message(encoding as '8bit');
  const { bytes: after, changes } = await writeTexts(mail, bytes, ['Zwei Möwen & “ein” Boot', '']);
  expect(changes.map((c) => c.words)).toEqual([
    { before: '', after: 'Zwei Möwen & “ein” Boot' },
    { before: 'Sail', after: '' },
  ]);
  const [old, fresh] = [await PostalMime.parse(bytes), await PostalMime.parse(after)];
  expect(fresh.html!.trim()).toBe(
    HTML.replace('"cid:p%401"', '"cid:p%401" alt="Zwei Möwen &amp; “ein” Boot"').replace('alt="Sail"', 'alt=""'),
  );
  expect([fresh.subject, fresh.attachments.length]).toEqual([old.subject, 1]);
  // Headers, the other parts and the epilogue stay byte for byte.
  const tail = (b: Uint8Array) => Buffer.from(b).toString('latin1').split('Content-Type: image/png')[1];
  expect(tail(after)).toBe(tail(bytes));
  expect(
    Buffer.from(after)
      .toString('latin1')
      .split('\r\n')
      .every((line) => line.length <= 998),
  ).toBe(true);
});

test('in a part of seven bits, letters beyond ASCII become references', async () => {
  const bytes = Buffer.from(
    message('8bit', { html: '<img src=cid:x>' }).toString('latin1').replace('8bit', '7bit'),
    'latin1',
  );
  const { bytes: after } = await writeTexts(mail, bytes, ['Möwen 🐦']);
  expect(Buffer.from(after).every((b) => b < 128)).toBe(true);
  expect((await shown(mail, after))['']).toEqual(['img: described “Möwen 🐦”']);
});

// RFC 2046, 4.1.2: ISO-8859-1 has no characters at 0x80 to 0x9F, where windows-1252 has dashes, quotation marks and the euro.
test('what ISO-8859-1 lacks becomes a reference; a part that is windows-1252 under that name stays so', async () => {
  const bytes = Buffer.from(
    'Subject: x\r\nContent-Type: text/html; charset=ISO-8859-1\r\nContent-Transfer-Encoding: 8bit\r\n\r\n<p>F\xe4hre</p><img src=a>',
    'latin1',
  );
  const { bytes: after } = await writeTexts(mail, bytes, ['„Möwe“ – 5 €']);
  expect(Buffer.from(after).every((b) => b < 0x80 || b >= 0xa0)).toBe(true);
  expect(Buffer.from(after).toString('latin1')).toContain('alt="&#8222;M\xf6we&#8220; &#8211; 5 &#8364;"');
  expect((await shown(mail, after))['']).toEqual(['img: described “„Möwe“ – 5 €”']);
  const windows = Buffer.concat([bytes, Buffer.from('<p>\x80</p>', 'latin1')]);
  const { bytes: kept } = await writeTexts(mail, windows, ['5 €']);
  expect(Buffer.from(kept).toString('latin1')).toContain('alt="5 \x80"');
});

test('a line that would grow too long is refused; one without HTML, or sealed, has nothing to word', async () => {
  const long = message('8bit', { html: `<p>${'a'.repeat(900)}<img src=cid:x></p>` });
  const { refusals, bytes } = await writeTexts(mail, long, ['b'.repeat(120)]);
  expect([refusals[0]!.reason.id, Buffer.from(bytes).equals(long)]).toEqual(['refusal.line-length', true]);
  const sealed = async (type: string) =>
    (await mail.read(Buffer.from(`Subject: x\r\nContent-Type: ${type}\r\n\r\nMIIB`))).notes.map((n) => n.id);
  expect(await sealed('application/pkcs7-mime; smime-type=enveloped-data')).toEqual(['document.smime-encrypted']);
  expect(await sealed('multipart/encrypted; protocol="application/pgp-encrypted"; boundary=b')).toEqual([
    'document.pgp-encrypted',
  ]);
  const plain = await mail.read(Buffer.from('Subject: x\r\n\r\nhello'));
  expect([plain.pages, plain.notes]).toEqual([[], [{ id: 'document.no-html' }]]);
});

test('a DKIM signature that breaks is a warning; what is signed or sealed itself is not written', async () => {
  const signed = await writeTexts(mail, message('8bit', { head: 'DKIM-Signature: v=1; d=isle.example' }), ['x']);
  expect(signed.warnings).toEqual([{ id: 'document.dkim-broken' }]);
  for (const [type, reason] of [
    ['multipart/signed; protocol="application/pkcs7-signature"', 'document.smime'],
    ['multipart/signed; protocol="application/pgp-signature"', 'document.pgp'],
    ['multipart/encrypted; protocol="application/pgp-encrypted"', 'document.pgp'],
  ]) {
    const bytes = message('8bit', { type: type! });
    expect((await appearancesOf(mail, bytes)).length).toBe(2);
    const failed = await writeTexts(mail, bytes, ['x']).catch((error: unknown) => error);
    expect((failed as DocumentError).reason.id).toBe(reason);
  }
});

test('messages with several HTML parts have a page for each; attachments are left alone', async () => {
  const part = (html: string, more = '') => `--b\nContent-Type: text/html${more}\n\n${html}\n`;
  const bytes = Buffer.from(
    `Subject: x\nContent-Type: multipart/mixed; boundary=b\n\n${part('<img src=a alt=One>')}${part('<img src=b>')}${part('<img src=c>', '\nContent-Disposition: attachment')}--b--\n`,
  );
  const { bytes: after } = await writeTexts(mail, bytes, ['Two'], { fragment: 'part=2' });
  expect(await shown(mail, after)).toEqual({ 'part=1': ['img: described “One”'], 'part=2': ['img: described “Two”'] });
});
