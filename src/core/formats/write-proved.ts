import type { DocumentFormat, DocumentReading, Edit, WriteContext, WrittenDocument } from '../model/document';
import { withWords, writtenWords } from '../model/wording';

const keyOf = ({ fragment = null, order }: Pick<Edit, 'fragment' | 'order'>) => `${fragment ?? ''} ${order}`;
const placeOf = (reading: DocumentReading, { fragment = null, order }: Pick<Edit, 'fragment' | 'order'>) =>
  reading.pages.find((p) => p.fragment === fragment)?.reading.appearances[order];

/**
 * Puts words into a document and reads the result again: a change that its reader does not find is refused. Words that are
 * there already are not written: where nothing changes, the document is the same to the byte.
 *
 * @throws DocumentError when it may not be written
 * @throws RangeError when an edit names an appearance that the document does not have
 */
export async function writeProved(
  format: DocumentFormat,
  bytes: Uint8Array,
  edits: readonly Edit[],
  context: WriteContext = {},
): Promise<WrittenDocument> {
  const before = await format.read(bytes, context);
  const wanted = edits.flatMap((edit) => withoutSameText(edit, before));
  if (wanted.length === 0) return { bytes, changes: [], refusals: [] };
  const { reading, ...written } = await format.write(bytes, wanted, { ...context, reading: before });
  const refused = new Set(written.refusals.filter((r) => r.part === 'attributes').map(keyOf));
  const changed = wanted.filter((e) => e.text !== undefined && !refused.has(keyOf(e)));
  if (changed.length === 0) return written;
  const after = reading ?? (await format.read(written.bytes, context));
  const lost = changed.filter((edit) => {
    const [was, is] = [placeOf(before, edit), placeOf(after, edit)];
    const said = was && writtenWords(withWords(was, edit.text!));
    return !is || writtenWords(is)?.trim() !== said?.trim();
  });
  const refusals = lost.map((edit) => ({
    ...(edit.fragment ? { fragment: edit.fragment } : {}),
    ...{ order: edit.order, part: 'attributes' as const, line: 0, reason: { id: 'refusal.not-heard' } },
  }));
  return { ...written, refusals: [...written.refusals, ...refusals] };
}

/** An edit without its text where that is there already; nothing where nothing else of it is left. */
function withoutSameText(edit: Edit, reading: DocumentReading): Edit[] {
  const place = placeOf(reading, edit);
  if (edit.text === undefined || !place || writtenWords(place) !== edit.text) return [edit];
  const { text: _, ...rest } = edit;
  return Object.keys(rest).some((key) => key !== 'order' && key !== 'fragment') ? [rest] : [];
}
