import type { Edit, Part } from '../model/document';
import type { Message } from '../model/message';

/** What of an edit a document that takes alt text only cannot be given, with the reason. */
export function refusedParts({ title, caption, credit, longDescription }: Edit): { part: Part; reason: Message }[] {
  const out: { part: Part; reason: Message }[] = [];
  if (title !== undefined) out.push({ part: 'attributes', reason: { id: 'refusal.document-title' } });
  if (caption !== undefined) out.push({ part: 'caption', reason: { id: 'refusal.document-caption' } });
  if (credit !== undefined) out.push({ part: 'credit', reason: { id: 'refusal.document-beside' } });
  if (longDescription !== undefined) out.push({ part: 'long-description', reason: { id: 'refusal.document-beside' } });
  return out;
}
