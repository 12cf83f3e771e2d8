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

/** Whether an error says that the database is down, or cannot write any more, also one that a library has wrapped. */
export const meansDatabaseDown = (error: unknown): boolean =>
  codesOf(error).some((code) => code === 'database-down' || code === 'read-only');

/**
 * Whether a text holds what PostgreSQL does not take: NUL (22021, `character_not_in_repertoire`; 22P05,
 * `untranslatable_character`).
 */
export const isUnstorable = (error: unknown): boolean => codesOf(error).some((c) => c === '22021' || c === '22P05');

/** Whether a row is there already under the same key (23505, `unique_violation`). */
export const isDuplicate = (error: unknown): boolean => codesOf(error).includes('23505');
