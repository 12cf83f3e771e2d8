import { plain, type Message } from './message';

/**
 * Marks an error with its own code and those of the classes that it extends. Registered for the whole process, because
 * there may be several copies of these classes in it: a server may be bundled in parts, and what one part throws is
 * caught in another.
 */
const CODES = Symbol.for('detto.user-error.codes');

/**
 * Something that a person can understand and act on: what happened, to what, and what to do, as a message. Every other
 * error is a fault of Detto's own, which is logged and whose text nobody is shown.
 */
export class UserError extends Error {
  /** Tells its class from others: one that extends it has a code of its own. */
  static readonly code: string = 'user';
  readonly code: string;
  readonly reason: Message;
  readonly [CODES]: readonly string[];

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
    this.code = new.target.code;
    this[CODES] = [...new Set([UserError.code, new.target.code])];
  }

  static override [Symbol.hasInstance](value: unknown): boolean {
    const codes = value instanceof Error ? (value as { [CODES]?: readonly string[] })[CODES] : undefined;
    return codes?.includes(this.code) ?? false;
  }
}
