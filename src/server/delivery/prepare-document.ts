import type { DeliveryChange, DeliveryPage } from '@/contract/delivery';
import { refusalFor } from '@/core/formats/html/refusals';
import { positionOf, takesNoWords } from '@/core/model/appearance';
import type { BookMetadata, Change, Edit } from '@/core/model/document';
import type { Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import { log, messageOf } from '../log';
import { sharedReaders } from '../workers/reader-pool';
import { sharedBytes } from '../workers/shared-bytes';
import { fileFor } from './file-for';
import { partsOf, type WaitingAppearance } from './page-edits';

/** A document with its accepted texts in place, beside what it was. */
export interface PreparedDocument {
  page: DeliveryPage;
  before: Buffer;
  after: Buffer;
}

/** The document that a page is in: its own, where it is one of several in a file. */
export const documentOf = ({ page: p }: WaitingAppearance): string => p.document ?? p.path;

/** What names a page within its document; absent where the document is one page. */
const fragmentOf = ({ page: p }: WaitingAppearance): { fragment?: string } =>
  p.document === null ? {} : { fragment: p.path.slice(p.document.length + 1) };

/**
 * Works out every change that accepted texts make to one document.
 *
 * @param own its appearances with texts that wait, at least one
 * @param before its bytes as surveyed
 * @param leftOut why it must not be overwritten; null when it is as it was surveyed
 */
export async function prepareDocument(
  own: readonly WaitingAppearance[],
  before: Buffer,
  leftOut: Message | null,
  editOf: (row: WaitingAppearance) => Edit,
  book: BookMetadata,
): Promise<PreparedDocument> {
  const { page: p } = own[0]!;
  const path = documentOf(own[0]!);
  const spotOf = (row: WaitingAppearance) => {
    const { id, pictureId, reading } = row.appearance;
    return { appearanceId: id, pictureId, line: positionOf(reading).line, ...placeOf(row) };
  };
  const edits = own.map((row) => ({ row, edit: { ...editOf(row), ...fragmentOf(row) } }));
  // Nothing is delivered where somebody has to choose first.
  const conflicts = own.filter((o) => o.open !== null).map(spotOf);
  const aside = edits
    .filter(({ row, edit }) => row.open === null && row.appearance.leftOut && partsOf(edit).length > 0)
    .map(({ row }) => ({ ...spotOf(row), text: row.appearance.words }));
  const base = {
    // Its pages have titles of their own; the whole goes by its name.
    ...{ path, format: p.format, title: p.document === null ? p.title : '', file: fileFor(path), isNew: false },
    ...{ conflicts, aside, leftOut, warnings: [], changes: [], refusals: [] },
  };
  const refused = (reason: Message): PreparedDocument => {
    const waiting = edits.reduce((sum, { edit }) => sum + partsOf(edit).length, 0);
    return { page: { ...base, leftOut: reason, waiting }, before, after: before };
  };
  if (leftOut !== null) return refused(leftOut);
  const settled = edits.filter(({ row }) => row.open === null && !row.appearance.leftOut);
  try {
    const { after, ...written } = await write(before, p, settled, book);
    const waiting = written.changes.length + written.refusals.length + conflicts.length + aside.length;
    return { page: { ...base, waiting, ...written }, before, after };
  } catch (error) {
    // A document that may not be written at all, such as one that is signed, stops no other.
    if (error instanceof UserError) return refused(error.reason);
    log.error({ message: messageOf(error), page: p.id }, 'a document could not be written');
    return refused({ id: 'left-out.unexpected' });
  }
}

/** Where a place is found in its document, for people; nothing where the file itself has lines. */
function placeOf({ page: p, appearance: { reading } }: WaitingAppearance): Pick<DeliveryChange, 'where'> {
  if (p.document === null && reading.location.kind === 'html') return {};
  const fragment = p.document === null ? null : p.path.slice(p.document.length + 1);
  // The path of an element that no source has says nothing to people.
  const spot = reading.location.kind === 'script' ? { id: 'spot.script' } : (reading.context.spot ?? null);
  return { where: { fragment, spot, place: reading.context.place } };
}

/** Puts accepted texts into a document, and reads it again to see that it says them. */
async function write(
  before: Buffer,
  p: WaitingAppearance['page'],
  own: readonly { row: WaitingAppearance; edit: Edit }[],
  book: BookMetadata,
): Promise<Pick<DeliveryPage, 'changes' | 'refusals' | 'warnings'> & { after: Buffer }> {
  const keyOf = ({ fragment = null, order }: Pick<Edit, 'fragment' | 'order'>) => `${fragment ?? ''} ${order}`;
  const rowOf = new Map(own.map(({ row, edit }) => [keyOf(edit), row]));
  const about = (of: Pick<Edit, 'fragment' | 'order'>) => {
    const row = rowOf.get(keyOf(of))!;
    return { appearanceId: row.appearance.id, pictureId: row.appearance.pictureId, ...placeOf(row) };
  };
  // What a browser or a style sheet added is not among the appearances that the source itself shows.
  const isInSource = ({ row }: (typeof own)[number]) =>
    row.appearance.reading.location.kind !== 'script' && !takesNoWords(row.appearance.reading);
  const unwritable = own
    .filter((o) => !isInSource(o))
    .flatMap(({ row, edit }) =>
      partsOf(edit).map((part) => ({
        ...{ ...fragmentOf(row), order: edit.order, part, line: positionOf(row.appearance.reading).line },
        reason: refusalFor(row.appearance.reading)!,
      })),
    );
  const writable = own.filter((o) => isInSource(o) && partsOf(o.edit).length > 0);
  const context = {
    ...(p.transport ? { transport: p.transport } : {}),
    ...(p.frontMatter ? { frontMatter: p.frontMatter } : {}),
    book,
    modified: new Date().toISOString().replace(/\.\d+/, ''),
  };
  const edits = writable.map((o) => o.edit);
  const written = await sharedReaders().write(sharedBytes(before), p.format, p.document ?? p.path, edits, context);
  const editOf = new Map(writable.map(({ edit }) => [keyOf(edit), edit]));
  const isRefused = (c: Change) =>
    written.refusals.some((r) => keyOf(r) === keyOf(c) && r.part === c.part && r.reason.id === 'refusal.not-heard');
  return {
    after: Buffer.from(written.bytes),
    changes: written.changes.map((change) => ({
      ...change,
      ...about(change),
      // The proof: what a reader of the new document gets is what was accepted.
      heard: change.part === 'attributes' && !isRefused(change) ? heardAfter(editOf.get(keyOf(change))?.text) : null,
      reads: change.part === 'long-description' ? (editOf.get(keyOf(change))?.longDescription?.text ?? null) : null,
      writtenBy: null,
    })),
    refusals: [...unwritable, ...written.refusals].map((r) => ({ ...r, ...about(r) })),
    warnings: written.warnings ?? [],
  };
}

/** What is heard of an alt text that was proved to be there. */
const heardAfter = (text: string | undefined): string | null =>
  text === undefined ? null : text.replace(/\s+/g, ' ').trim();
