import { strings } from '../strings';

/** A point in time as people say it now, by the clock of whoever reads it. @param at ISO 8601 */
export function Time({ at }: { at: string }) {
  // The server that draws the page first may be in another time zone.
  return (
    <time dateTime={at} suppressHydrationWarning>
      {strings.when(at, new Date())}
    </time>
  );
}
