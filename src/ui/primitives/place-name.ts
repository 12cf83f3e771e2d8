import type { DocumentPlace } from '@/contract/delivery';
import { positionOf, type Appearance } from '@/core/model/appearance';
import { strings } from '../strings';

/** Where a place is, for people: the line of a page, or the slide, the page, the cells in a document. */
export function placeName({ line, where }: { line: number; where?: DocumentPlace }): string {
  if (!where) return strings.delivery.line(line);
  const on = [where.fragment && strings.pagePart(where.fragment), where.spot && strings.message(where.spot)];
  return on.filter(Boolean).join(', ') || where.place;
}

/** The same for an appearance on its page. */
export function spotName(page: { path: string; format?: string }, reading: Appearance): string {
  const { line } = positionOf(reading);
  const fragment = (page.format ?? 'html') === 'html' ? null : (/#([a-z]+=\d+)$/.exec(page.path)?.[1] ?? null);
  // Text has lines; a page of a package has not.
  if (reading.location.kind === 'html' && fragment === null) return placeName({ line });
  const { spot = null, place } = reading.context;
  return placeName({ line, where: { fragment, spot, place } });
}
