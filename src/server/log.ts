import { plain, type Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import pino from 'pino';

/** Structured log on standard error; never page content, never secrets. */
export const log = pino({ name: 'detto', level: process.env['DETTO_LOG'] ?? 'info' }, pino.destination(2));

/** What went wrong, without the text of a failed query, which holds page content. */
export function messageOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return error.cause instanceof Error ? error.cause.message : error.message;
}

/** The same as data, for people: a {@link UserError} says it as a message. */
export const reasonOf = (error: unknown): Message =>
  error instanceof UserError ? error.reason : plain(messageOf(error));
