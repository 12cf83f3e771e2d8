import { plain, type Message } from './message';

/**
 * Something that a person can understand and act on: what happened, to what, and what to do, as a message. Every other
 * error is a fault of Detto's own, which is logged and whose text nobody is shown.
 */
export class UserError extends Error {
  readonly code: string = 'user';
  readonly reason: Message;

  /**
   * @param reason a message, or its words where it has no id
   * @param status of HTTP, where it answers a request (RFC 9110, 15.5)
   */
  constructor(
    reason: Message | string,
    readonly status = 400,
    options?: ErrorOptions,
  ) {
    const message = typeof reason === 'string' ? plain(reason) : reason;
    super(message.id === 'plain' ? String(message.values?.['text']) : message.id, options);
    this.reason = message;
  }
}
