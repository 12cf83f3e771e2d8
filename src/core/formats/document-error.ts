import type { Message } from '../model/message';

/** A document that cannot be read or written, with the reason as data. */
export class DocumentError extends Error {
  readonly code = 'document';

  constructor(readonly reason: Message) {
    super(reason.id);
  }
}
