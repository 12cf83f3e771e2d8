import type { GalleyView } from '@/contract/galley';
import { strings } from '../strings';
import { asQuery, galleyHref } from './address';

/** What an empty view says, with the way back to all pictures where a filter emptied it. */
export function Nothing({ view, all, collection }: { view: GalleyView; all: number; collection: string }) {
  const s = strings.galley;
  const isNarrowed = String(asQuery({ ...view, sort: 'reach', group: 'picture' })) !== '';
  return (
    <p className="px-7 py-10 text-[17px] text-ink-2">
      {all === 0 ? s.nothingYet : s.none} {all > 0 && isNarrowed && <a href={galleyHref(collection)}>{s.showAll}</a>}
    </p>
  );
}
