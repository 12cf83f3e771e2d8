/** Bytes on memory that threads share, so that sending them copies nothing. */
export function sharedBytes(bytes: Uint8Array): Buffer {
  if (bytes.buffer instanceof SharedArrayBuffer) return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const shared = Buffer.from(new SharedArrayBuffer(bytes.byteLength));
  shared.set(bytes);
  return shared;
}
