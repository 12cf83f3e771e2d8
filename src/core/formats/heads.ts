/** Bytes as a buffer on the same memory. */
export const bufferOf = (bytes: Uint8Array): Buffer => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Whether a file begins as a ZIP does (APPNOTE 4.3.7). */
export const startsAsZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
