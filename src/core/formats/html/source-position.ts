/** Offsets at which the lines of a source begin, in UTF-16 code units; the first is 0. */
export function lineStarts(source: string): number[] {
  const starts = [0];
  // Twenty times faster, and as good where there is nothing but line feeds.
  if (!source.includes('\r'))
    for (let at = source.indexOf('\n'); at >= 0; at = source.indexOf('\n', at + 1)) starts.push(at + 1);
  else for (const end of source.matchAll(/\r\n?|\n/g)) starts.push(end.index + end[0].length);
  return starts;
}

/** Line and column of an offset, both from 1, by the offsets at which lines begin. */
export function position(offset: number, starts: number[]): [line: number, column: number] {
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= offset) low = middle;
    else high = middle - 1;
  }
  return [low + 1, offset - starts[low]! + 1];
}

/** Where the markup of an inline `svg` ends: after its own end tag, inner ones counted. */
export function endOfSvg(source: string, from: number): number {
  if (source[from - 2] === '/') return from;
  const tags = /<(\/?)svg\b[^>]*?(\/?)>/gi;
  tags.lastIndex = from;
  let depth = 1;
  for (let m = tags.exec(source); m; m = tags.exec(source)) {
    if (m[2]) continue;
    depth += m[1] ? -1 : 1;
    if (depth === 0) return tags.lastIndex;
  }
  return source.length;
}
