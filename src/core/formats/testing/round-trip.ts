import type { Appearance } from '../../model/appearance';
import type { DocumentFormat, Edit, ReadContext, WriteContext, WrittenDocument } from '../../model/document';

/** What a document shows: place, state and words of each appearance, by page. */
export async function shown(format: DocumentFormat, bytes: Uint8Array, name = ''): Promise<Record<string, string[]>> {
  const { pages } = await format.read(bytes, { name });
  const line = ({ context, state, accessible }: Appearance) => `${context.place}: ${state} “${accessible.name}”`;
  return Object.fromEntries(pages.map((p) => [p.fragment ?? '', p.reading.appearances.map(line)]));
}

export const appearancesOf = async (
  format: DocumentFormat,
  bytes: Uint8Array,
  context: ReadContext = {},
): Promise<Appearance[]> => (await format.read(bytes, context)).pages.flatMap((p) => p.reading.appearances);

/** Writes texts in order into the places of one page. */
export const writeTexts = (
  format: DocumentFormat,
  bytes: Uint8Array,
  texts: readonly (string | null)[],
  { fragment = null, ...context }: WriteContext & { fragment?: string | null } = {},
): Promise<WrittenDocument> => {
  const edits = texts.flatMap((text, order): Edit[] => (text === null ? [] : [{ fragment, order, text }]));
  return format.write(bytes, edits, context);
};
