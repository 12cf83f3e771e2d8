import yauzl from 'yauzl';

/** All files of a ZIP, for tests. */
export function unzip(zip: Buffer): Promise<Map<string, Buffer>> {
  return new Promise((resolve, reject) =>
    yauzl.fromBuffer(zip, { lazyEntries: true }, (error, opened) => {
      if (error) return reject(error);
      const files = new Map<string, Buffer>();
      opened.on('error', reject);
      opened.on('end', () => resolve(files));
      opened.on('entry', (entry: yauzl.Entry) =>
        opened.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed);
          const parts: Buffer[] = [];
          stream.on('data', (part: Buffer) => parts.push(part));
          stream.on('end', () => {
            files.set(entry.fileName, Buffer.concat(parts));
            opened.readEntry();
          });
        }),
      );
      opened.readEntry();
    }),
  );
}
