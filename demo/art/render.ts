import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { pictures, type Drawn } from './pictures';
import { random } from './shapes';

const GIF_FRAME_MS = 1400;

/** Film grain from a fixed seed, as a layer to lay over a drawing. */
async function grainLayer(width: number, height: number, strength: number) {
  const next = random(width * 31 + height);
  const pixels = Buffer.alloc(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    const light = next() < 0.5 ? 0 : 255;
    pixels.fill(light, i * 4, i * 4 + 3);
    pixels[i * 4 + 3] = Math.floor(next() * strength * 2);
  }
  return sharp(pixels, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
}

async function frame(svg: string, width: number, grain: number): Promise<Sharp> {
  const plain = await sharp(Buffer.from(svg), { density: 144 }).resize(width).png().toBuffer();
  if (grain === 0) return sharp(plain);
  const { height } = await sharp(plain).metadata();
  return sharp(
    await sharp(plain)
      .composite([{ input: await grainLayer(width, height, grain) }])
      .png()
      .toBuffer(),
  );
}

async function encode(drawn: Drawn): Promise<Buffer> {
  const [first, ...more] = [drawn.svg].flat();
  const format = drawn.file.split('.').pop();
  if (format === 'svg') return Buffer.from(first!);
  const quality = drawn.quality ?? 80;
  const plain = await frame(first!, drawn.width, drawn.grain ?? 0);
  const one = drawn.says ? plain.withXmp(packet(drawn.says)) : plain;
  switch (format) {
    case 'jpg':
      return one.jpeg({ quality, mozjpeg: false }).toBuffer();
    case 'webp':
      return one.webp({ quality }).toBuffer();
    case 'avif':
      return one.avif({ quality, effort: 3 }).toBuffer();
    case 'png':
      return one.png({ palette: true }).toBuffer();
    case 'gif': {
      if (more.length === 0) return one.gif().toBuffer();
      const frames = await Promise.all(
        [first!, ...more].map(async (s) => (await frame(s, drawn.width, 0)).png().toBuffer()),
      );
      return sharp(frames, { join: { animated: true } })
        .gif({ delay: frames.map(() => GIF_FRAME_MS), colours: 64 })
        .toBuffer();
    }
  }
  throw new Error(`${drawn.file}: no such format`);
}

const NAMESPACES: Record<string, string> = {
  dc: 'http://purl.org/dc/elements/1.1/',
  photoshop: 'http://ns.adobe.com/photoshop/1.0/',
  xmpRights: 'http://ns.adobe.com/xap/1.0/rights/',
  Iptc4xmpCore: 'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/',
};

/** An XMP packet (ISO 16684-1) with simple properties. */
function packet(says: Record<string, string>): string {
  const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');
  const spaces = Object.entries(NAMESPACES).map(([prefix, uri]) => `xmlns:${prefix}="${uri}"`);
  const fields = Object.entries(says).map(([name, text]) => `<${name}>${escaped(text)}</${name}>`);
  return `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" ${spaces.join(' ')}>${fields.join('')}</rdf:Description></rdf:RDF></x:xmpmeta>`;
}

/** One picture of the demo, rendered again. */
export async function rendered(file: string): Promise<Buffer> {
  return encode(pictures().find((d) => d.file === file)!);
}

/**
 * A folder with every picture of the demo, rendered unless it is there already; the same bytes each time on
 * one version of the renderer.
 */
export async function picturesFolder(folder: string): Promise<string> {
  const wanted = pictures();
  const mark = path.join(folder, '.drawn');
  const drawn = createHash('sha256')
    .update(JSON.stringify([wanted, sharp.versions]))
    .digest('hex');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === drawn) return folder;
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  await Promise.all(wanted.map(async (d) => writeFileSync(path.join(folder, d.file), await encode(d))));
  writeFileSync(mark, drawn);
  return folder;
}
