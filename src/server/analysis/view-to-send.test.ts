import sharp from 'sharp';
import { viewToSend } from './view-to-send';

/** What leaves for a drafting service: read back by sharp, which made none of the decisions. */
const plain = (
  width: number,
  height: number,
  background: string | { r: number; g: number; b: number; alpha: number },
  channels: 3 | 4 = 3,
) => sharp({ create: { width, height, channels, background } });
const pixel = async (bytes: Buffer, left: number, top: number) => [
  ...(await sharp(bytes).extract({ left, top, width: 1, height: 1 }).raw().toBuffer()),
];

test('it is JPEG, scaled to the longer side and never enlarged', async () => {
  const large = await sharp(await viewToSend(await plain(900, 300, '#336699').png().toBuffer(), 300)).metadata();
  expect(large).toMatchObject({ format: 'jpeg', width: 300, height: 100 });
  const small = await sharp(await viewToSend(await plain(40, 30, '#336699').png().toBuffer(), 300)).metadata();
  expect(small).toMatchObject({ width: 40, height: 30 });
});

test('nothing of its metadata goes along', async () => {
  const exif = { IFD0: { Artist: 'Ann Marr', Copyright: 'Secret' }, IFD3: { GPSLatitude: '57/1 10/1 0/1' } };
  const bytes = await plain(60, 40, '#336699')
    .jpeg()
    .withExif(exif)
    .withXmp('<x:xmpmeta xmlns:x="adobe:ns:meta/">mail@isle.example</x:xmpmeta>')
    .toBuffer();
  expect(bytes.toString('latin1')).toContain('Ann Marr');
  const sent = await viewToSend(bytes, 300);
  expect(await sharp(sent).metadata()).not.toMatchObject({ exif: expect.anything() });
  for (const secret of ['Ann Marr', 'Secret', 'isle.example']) expect(sent.toString('latin1')).not.toContain(secret);
});

test('it stands upright', async () => {
  // Orientation 6: the camera was held upright, the pixels lie (EXIF 2.32, 4.6.4).
  const lying = await plain(80, 40, '#336699').jpeg().withMetadata({ orientation: 6 }).toBuffer();
  expect(await sharp(await viewToSend(lying, 300)).metadata()).toMatchObject({ width: 40, height: 80 });
});

test('what shines through lies on white', async () => {
  const clear = await plain(20, 20, { r: 0, g: 0, b: 0, alpha: 0 }, 4).png().toBuffer();
  expect((await pixel(await viewToSend(clear, 300), 10, 10)).every((v) => v > 250)).toBe(true);
});

test('a drawing of lines is rendered', async () => {
  const svg = Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="50"><rect width="100" height="50" fill="#ff0000"/></svg>',
  );
  const sent = await viewToSend(svg, 300);
  expect(await sharp(sent).metadata()).toMatchObject({ format: 'jpeg', width: 100, height: 50 });
  const [r, g] = await pixel(sent, 50, 25);
  expect([r! > 240, g! < 20]).toEqual([true, true]);
});

test('an animation gives a sheet of four frames, the first and the last among them', async () => {
  const colours = ['#ff0000', '#00ff00', '#0000ff', '#ffff00', '#00ffff', '#ff00ff', '#ffffff'];
  const frames = await Promise.all(colours.map((c) => plain(40, 30, c).png().toBuffer()));
  const gif = await sharp(frames, { join: { animated: true } })
    .gif({ delay: colours.map(() => 100) })
    .toBuffer();
  expect((await sharp(gif).metadata()).pages).toBe(7);
  const sent = await viewToSend(gif, 300);
  expect(await sharp(sent).metadata()).toMatchObject({ width: 80, height: 60 });
  const at = async (x: number, y: number) => (await pixel(sent, x, y)).map((v) => (v > 128 ? 1 : 0)).join('');
  expect([await at(20, 15), await at(60, 15), await at(20, 45), await at(60, 45)]).toEqual([
    '100',
    '001',
    '011',
    '111',
  ]);
});

test('what is no picture is an error of the decoder', () =>
  expect(viewToSend(Buffer.from('<html>no picture'), 300)).rejects.toThrow());
