import { crc32, deflateSync } from 'node:zlib';

function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc32(body), body.length + 4);
  return out;
}

/**
 * Pixels as a PNG (PNG, third edition).
 *
 * @param channels bytes of a pixel: 1 for grey, 3 for RGB, 4 for RGBA
 */
export function encodePng(pixels: Uint8Array, width: number, height: number, channels: 1 | 3 | 4): Buffer {
  const row = width * channels;
  const lines = Buffer.alloc((row + 1) * height);
  for (let y = 0; y < height; y++) lines.set(pixels.subarray(y * row, (y + 1) * row), y * (row + 1) + 1);
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.writeUInt8(8, 8);
  head.writeUInt8({ 1: 0, 3: 2, 4: 6 }[channels], 9);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(lines)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}
