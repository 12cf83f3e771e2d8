import { UserError } from '../model/user-error';

/** A document that cannot be read or written, with the reason as data. */
export class DocumentError extends UserError {
  static override readonly code = 'document';
}
