const BOUNDARY = 'skerry-sound-2026';

/** Quoted-printable as mail programs write it, on lines of 76 (RFC 2045, 6.7). */
function quotedPrintable(text: string): string {
  return text
    .split('\n')
    .map((whole) => {
      let out = '';
      let length = 0;
      for (const byte of Buffer.from(whole)) {
        const plain = byte >= 32 && byte <= 126 && byte !== 0x3d;
        const token = plain ? String.fromCharCode(byte) : `=${byte.toString(16).toUpperCase().padStart(2, '0')}`;
        if (length + token.length > 75) {
          out += '=\r\n';
          length = 0;
        }
        out += token;
        length += token.length;
      }
      return out;
    })
    .join('\r\n');
}

const HTML = `<html lang="en-GB"><head><title>Puffin week</title></head><body>
<p><img src="cid:logo@skerry-sound.example" alt="Skerry Sound Ferries" width="96" height="32"></p>
<h1>Puffin week \u2013 book now</h1>
<p>From 8 to 14 June two boats a day go to the Holm, with a warden on board.</p>
<p><img src="cid:puffin@skerry-sound.example" width="320" height="213"></p>
<p>The birds are back since Easter, and stand a few steps from the path.</p>
<p><a href="https://skerry-sound.example/book"><img src="cid:book@skerry-sound.example" alt="" width="160" height="48"></a></p>
<p>You get this letter because you asked for it at the quay.</p>
</body></html>
`;

/** The letter to those who asked for it: HTML with its pictures inside. */
export async function newsletter(picturesAt: (file: string) => Buffer): Promise<Buffer> {
  const lines = (data: Buffer) =>
    data
      .toString('base64')
      .match(/.{1,76}/g)!
      .join('\r\n');
  const picture = (id: string, file: string, type: string) =>
    [
      `--${BOUNDARY}`,
      `Content-Type: ${type}; name="${file}"`,
      'Content-Transfer-Encoding: base64',
      `Content-ID: <${id}@skerry-sound.example>`,
      `Content-Disposition: inline; filename="${file}"`,
      '',
      lines(picturesAt(file)),
    ].join('\r\n');
  const message = [
    'From: Skerry Sound Ferries <letters@skerry-sound.example>',
    'To: readers@skerry-sound.example',
    'Subject: =?UTF-8?Q?Puffin_week_=E2=80=93_book_now?=',
    'Date: Sun, 01 Mar 2026 08:00:00 +0000',
    'Message-ID: <2026-03-01@skerry-sound.example>',
    'MIME-Version: 1.0',
    `Content-Type: multipart/related; boundary="${BOUNDARY}"; type="text/html"`,
    '',
    `--${BOUNDARY}`,
    'Content-Type: text/html; charset=utf-8',
    'Content-Transfer-Encoding: quoted-printable',
    '',
    quotedPrintable(HTML),
    picture('logo', 'logo.png', 'image/png'),
    picture('puffin', 'IMG_2048.jpg', 'image/jpeg'),
    picture('book', 'book-now.png', 'image/png'),
    `--${BOUNDARY}--`,
    '',
  ];
  return Buffer.from(message.join('\r\n'), 'latin1');
}
