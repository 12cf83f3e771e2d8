import type { DraftRecord } from '@/contract/drafting';
import type { Outcome } from '@/core/model/finding';
import type { Message } from '@/core/model/message';
import type { Purpose } from '@/core/model/appearance';
import { strings } from '.';

/** The words of the interface for lists that are exported. */
export const listWords = {
  finding: (outcome: Outcome, message: Message): string => `${strings.outcomes[outcome]}: ${strings.message(message)}`,
  state: (state: 'described' | 'decorative' | 'missing'): string => strings.states[state],
  purpose: (purpose: string): string => strings.desk.purposes[purpose as Purpose],
  texts: strings.lists.workbook.texts,
  help: strings.lists.workbook.help,
  preview: strings.lists.workbook.preview,
  instructions: strings.lists.workbook.instructions,
  writer: (by: 'page' | 'person' | 'drafter', draft: DraftRecord | null): string => strings.writtenBy(by, draft),
};
