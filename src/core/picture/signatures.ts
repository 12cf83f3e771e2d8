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
  if (starts([0, 0, 1, 0]) && bytes.length > 6) return 'image/x-icon';
  if (starts([0x49, 0x49, 0x2a, 0]) || starts([0x4d, 0x4d, 0, 0x2a])) return 'image/tiff';
  const head = new TextDecoder().decode(bytes.subarray(0, 4096)).replace(/^\ufeff/, '');
  if (
    /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*(?:<!doctype svg[^>[]*(?:\[[\s\S]*?\])?[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*<svg[\s>]/i.test(
      head,
    )
  )
    return 'image/svg+xml';
  return null;
}

/** Width and height of the two types that the picture library does not read; null for others. */
export function headerSize(type: string, bytes: Uint8Array): { width: number; height: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (type === 'image/bmp') return { width: view.getInt32(18, true), height: Math.abs(view.getInt32(22, true)) };
  if (type === 'image/x-icon') return { width: bytes[6] || 256, height: bytes[7] || 256 };
  return null;
}
