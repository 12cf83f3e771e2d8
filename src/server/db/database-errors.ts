/** The database ended or does not answer; what was asked was not done, and may be asked again. */
export class DatabaseDownError extends Error {
  readonly code = 'database-down';
}

/** The `code` of an error or of what caused it, in that order. */
function codesOf(error: unknown): string[] {
  const codes: string[] = [];
  for (let at = error; at instanceof Error; at = at.cause) codes.push(String((at as { code?: unknown }).code ?? ''));
  return codes;
}

/**
 * How a database that is down is said: by the embedded one; by PostgreSQL (class 08, `connection_exception`; 57P01 to
 * 57P03, `admin_shutdown`, `crash_shutdown`, `cannot_connect_now`; 53300, `too_many_connections`); by the driver, which has
 * no codes of its own; and by the system, whose codes count only below a query, because sites say them too.
 */
const DOWN = /^(?:database-down|read-only|08\w{3}|57P0[123]|53300)$/;
const LOST = /^(?:Connection terminated|Client has encountered a connection error|Client was closed)/;
const NETWORK = /^(?:ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|EHOSTUNREACH)$/;

/** Whether an error says that the database is down, or cannot write any more, also one that a library has wrapped. */
export function meansDatabaseDown(error: unknown): boolean {
  let isQuery = false;
  for (let at = error; at instanceof Error; at = at.cause) {
    const code = String((at as { code?: unknown }).code ?? '');
    if (DOWN.test(code) || LOST.test(at.message) || (isQuery && NETWORK.test(code))) return true;
    isQuery ||= at.message.startsWith('Failed query');
  }
  return false;
}

/** Whether a transaction was given up for another one's sake (40001, `serialization_failure`; 40P01, `deadlock_detected`). */
export const mayBeTriedAgain = (error: unknown): boolean =>
  codesOf(error).some((code) => code === '40001' || code === '40P01');

/**
 * Whether a text holds what PostgreSQL does not take: NUL (22021, `character_not_in_repertoire`; 22P05,
 * `untranslatable_character`).
 */
export const isUnstorable = (error: unknown): boolean => codesOf(error).some((c) => c === '22021' || c === '22P05');

/** Whether a row is there already under the same key (23505, `unique_violation`). */
export const isDuplicate = (error: unknown): boolean => codesOf(error).includes('23505');
