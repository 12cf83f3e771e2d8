import { UserError } from '@/core/model/user-error';
import { createTwoFilesPatch } from 'diff';
import yazl from 'yazl';
import type { FormatId } from '@/core/model/document';
import type { DeliveryTarget, PreparedDocument } from './target';

/** Formats that are read line by line. */
const TEXT: readonly FormatId[] = ['html', 'markdown', 'mail', 'svg'];

const pathsOf = (documents: readonly PreparedDocument[]) => documents.map((d) => d.path);

/** A ZIP of the changed and new pages, and nothing else. */
export const zipTarget: DeliveryTarget = {
  id: 'zip',
  carriesPages: true,
  async deliver(documents) {
    const zip = new yazl.ZipFile();
    const mtime = new Date();
    for (const { after, file } of documents) zip.addBuffer(after, file, { mtime });
    zip.end();
    const parts: Buffer[] = [];
    for await (const part of zip.outputStream as unknown as AsyncIterable<Buffer>) parts.push(part);
    const file = { name: 'pages.zip', type: 'application/zip', bytes: Buffer.concat(parts) };
    return [{ target: 'zip', documents: pathsOf(documents), file }];
  },
};

/**
 * One unified diff of all pages. Lines are bytes read as latin1, so that `patch` can apply it whatever the pages'
 * encodings.
 */
export const diffTarget: DeliveryTarget = {
  id: 'diff',
  carriesPages: false,
  async deliver(all) {
    const documents = all.filter((d) => TEXT.includes(d.format));
    const patches = documents.map((d) =>
      createTwoFilesPatch(
        d.isNew ? '/dev/null' : `a/${Buffer.from(d.file).toString('latin1')}`,
        `b/${Buffer.from(d.file).toString('latin1')}`,
        d.before.toString('latin1'),
        d.after.toString('latin1'),
        undefined,
        undefined,
        { context: 3 },
      ).replace(/^=+\n/, ''),
    );
    const bytes = Buffer.from(patches.join(''), 'latin1');
    const file = { name: 'changes.diff', type: 'application/octet-stream', bytes };
    return [{ target: 'diff', documents: pathsOf(documents), file }];
  },
};

/** The one document that changes, as it will be. */
export const documentTarget: DeliveryTarget = {
  id: 'document',
  carriesPages: true,
  async deliver(documents) {
    const [only, ...more] = documents;
    if (!only || more.length > 0) throw new UserError('Several documents change; download them as a ZIP.');
    const name = only.file.replace(/^.*\//, '');
    const file = { name, type: 'application/octet-stream', bytes: only.after };
    return [{ target: 'document', documents: pathsOf(documents), file }];
  },
};

/** The targets whose files are downloaded, by the name of the file. */
export const DOWNLOADS: Readonly<Record<string, DeliveryTarget>> = {
  'pages.zip': zipTarget,
  'changes.diff': diffTarget,
  document: documentTarget,
};
