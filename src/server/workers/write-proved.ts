import { bufferOf } from '@/core/formats/heads';
import type { DocumentReading, Edit, FormatId, WriteContext, WrittenDocument } from '@/core/model/document';
import { withWords, writtenWords } from '@/core/model/wording';
import type { DocumentContext } from './tasks';
import { sharedBytes } from './shared-bytes';

/** What reads and writes documents apart from the process that serves people. */
export interface DocumentWriter {
  document(
    bytes: Buffer,
    format: FormatId,
    name: string,
    context?: DocumentContext,
    urgent?: boolean,
  ): Promise<DocumentReading>;
  write(
    bytes: Buffer,
    format: FormatId,
    name: string,
    edits: Edit[],
    context?: Omit<WriteContext, 'name'>,
  ): Promise<WrittenDocument>;
}

/**
 * Puts words into a document and reads the result again: a change that its reader does not find is refused.
 *
 * @throws DocumentError when it may not be written
 */
export async function writeProved(
  writer: DocumentWriter,
  bytes: Buffer,
  format: FormatId,
  name: string,
  edits: Edit[],
  context: Omit<WriteContext, 'name'> = {},
): Promise<WrittenDocument> {
  const own = sharedBytes(bytes);
  const { frontMatter, transport } = context;
  const known = { ...(frontMatter ? { frontMatter } : {}), ...(transport ? { transport } : {}) };
  const read = (of: Buffer) => writer.document(of, format, name, known, true);
  const written = await writer.write(own, format, name, edits, context);
  const changed = edits.filter((e) => e.text !== undefined && !isRefused(written, e));
  if (changed.length === 0) return written;
  const [before, after] = [await read(own), await read(sharedBytes(bufferOf(written.bytes)))];
  const at = (reading: DocumentReading, { fragment = null, order }: Edit) =>
    reading.pages.find((p) => p.fragment === fragment)?.reading.appearances[order];
  const refusals = changed.flatMap((edit) => {
    const [was, is] = [at(before, edit), at(after, edit)];
    const wanted = was && writtenWords(withWords(was, edit.text!));
    if (is && writtenWords(is)?.trim() === wanted?.trim()) return [];
    return [
      {
        ...(edit.fragment ? { fragment: edit.fragment } : {}),
        order: edit.order,
        part: 'attributes' as const,
        line: 0,
        reason: { id: 'refusal.not-heard' },
      },
    ];
  });
  return { ...written, refusals: [...written.refusals, ...refusals] };
}

const isRefused = ({ refusals }: WrittenDocument, { fragment = null, order }: Edit): boolean =>
  refusals.some((r) => r.order === order && (r.fragment ?? null) === fragment && r.part === 'attributes');
