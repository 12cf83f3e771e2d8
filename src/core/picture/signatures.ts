/** Media type of a picture by its first bytes (WHATWG MIME Sniffing 6.1, with AVIF, TIFF and SVG); null for anything else. */
export function pictureType(bytes: Uint8Array): string | null {
  const starts = (signature: number[], at = 0) => signature.every((b, i) => bytes[at + i] === b);
  const ascii = (at: number, length: number) => String.fromCharCode(...bytes.subarray(at, at + length));
  if (starts([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])) return 'image/png';
  if (starts([0xff, 0xd8, 0xff])) return 'image/jpeg';
  if (/^GIF8[79]a/.test(ascii(0, 6))) return 'image/gif';
  if (ascii(0, 4) === 'RIFF' && ascii(8, 4) === 'WEBP') return 'image/webp';
  if (ascii(4, 4) === 'ftyp') {
    const brands = ascii(8, 24);
    if (/avi[fs]/.test(brands)) return 'image/avif';
    if (/hei[cfx]|mif1/.test(brands)) return 'image/heic';
    return null;
  }
  if (ascii(0, 2) === 'BM' && bytes.length > 26) return 'image/bmp';
  if ((starts([0, 0, 1, 0]) || starts([0, 0, 2, 0])) && bytes.length > 6) return 'image/x-icon';
  if (starts([0x49, 0x49, 0x2a, 0]) || starts([0x4d, 0x4d, 0, 0x2a])) return 'image/tiff';
  const head = new TextDecoder().decode(bytes.subarray(0, 4096));
  if (
    /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*(?:<!doctype svg[^>[]*(?:\[[\s\S]*?\])?[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*<svg[\s/>]/i.test(
      head,
    )
  )
    return 'image/svg+xml';
  return null;
}

/**
 * Width and height of the types that tell them at a fixed place (PNG 11.2.1; GIF89a 18; WebP container, VP8, VP8L and
 * VP8X; BMP and ICO headers); null for others, and for files that are cut off before it.
 */
export function headerSize(type: string, bytes: Uint8Array): { width: number; height: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 30) return type === 'image/x-icon' ? { width: bytes[6] || 256, height: bytes[7] || 256 } : null;
  const size = (width: number, height: number) => (width > 0 && height > 0 ? { width, height } : null);
  switch (type) {
    case 'image/png':
      return size(view.getUint32(16), view.getUint32(20));
    case 'image/gif':
      return size(view.getUint16(6, true), view.getUint16(8, true));
    case 'image/bmp':
      return size(view.getInt32(18, true), Math.abs(view.getInt32(22, true)));
    case 'image/x-icon':
      return { width: bytes[6] || 256, height: bytes[7] || 256 };
    case 'image/webp': {
      const chunk = String.fromCharCode(...bytes.subarray(12, 16));
      if (chunk === 'VP8X')
        return size(1 + (view.getUint32(24, true) & 0xffffff), 1 + (view.getUint32(26, true) >>> 8));
      const bits = view.getUint32(21, true);
      if (chunk === 'VP8L') return size(1 + (bits & 0x3fff), 1 + ((bits >>> 14) & 0x3fff));
      return size(view.getUint16(26, true) & 0x3fff, view.getUint16(28, true) & 0x3fff);
    }
  }
  return null;
}

/** Frames of a PNG that moves (PNG, third edition, 11.3.6.1: `acTL`, before the first picture data); 1 for any other. */
export function pngFrames(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 8; at + 12 <= bytes.length; at += 12 + view.getUint32(at)) {
    const chunk = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (chunk === 'acTL') return Math.max(1, view.getUint32(at + 8));
    if (chunk === 'IDAT') break;
  }
  return 1;
}

/**
 * Width and height of an SVG as its root says them, in CSS pixels (SVG 2, 8.2 and 8.13: without them the view box
 * counts); null when it says neither.
 */
export function svgSize(source: string): { width: number; height: number } | null {
  const root = /<svg\b[^>]*>/i.exec(source)?.[0];
  if (!root) return null;
  const value = (name: string) => new RegExp(`\\s${name}\\s*=\\s*["']([^"']*)["']`, 'i').exec(root)?.[1]?.trim();
  const box =
    value('viewBox')
      ?.split(/[\s,]+/)
      .map(Number) ?? [];
  const ratio = box.length === 4 && box[2]! > 0 && box[3]! > 0 ? box[2]! / box[3]! : null;
  const width = cssPixels(value('width'));
  const height = cssPixels(value('height'));
  if (width !== null && height !== null) return rounded(width, height);
  if (ratio === null) return null;
  if (width !== null) return rounded(width, width / ratio);
  if (height !== null) return rounded(height * ratio, height);
  return rounded(box[2]!, box[3]!);
}

/** CSS Values and Units 4, 6.2: absolute lengths. */
const UNITS: Record<string, number> = { '': 1, px: 1, in: 96, cm: 96 / 2.54, mm: 9.6 / 2.54, pt: 96 / 72, pc: 16 };

/** Characters of a length; more digits than that measure nothing. */
const LONGEST_LENGTH = 40;

function cssPixels(length: string | undefined): number | null {
  if ((length?.length ?? 0) > LONGEST_LENGTH) return null;
  const [, number, unit] = /^(\d*\.?\d+(?:e[+-]?\d+)?)([a-z%]*)$/i.exec(length ?? '') ?? [];
  const scale = unit === undefined ? undefined : UNITS[unit.toLowerCase()];
  return scale === undefined || Number(number) === 0 ? null : Number(number) * scale;
}

const rounded = (width: number, height: number) => ({ width: Math.round(width), height: Math.round(height) });
