/** A range of a source, in UTF-16 code units, half open, and what comes in its place. */
export interface Splice {
  start: number;
  end: number;
  text: string;
}

/**
 * A source with some of its ranges replaced; splices at one place keep their order.
 *
 * @throws RangeError when two of them overlap
 */
export function spliced(source: string, splices: readonly Splice[]): string {
  let out = '';
  let at = 0;
  for (const s of [...splices].sort((a, b) => a.start - b.start || a.end - b.end)) {
    if (s.start < at) throw new RangeError('Two changes of one document overlap.');
    out += source.slice(at, s.start) + s.text;
    at = s.end;
  }
  return out + source.slice(at);
}
