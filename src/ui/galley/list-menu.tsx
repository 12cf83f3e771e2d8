import { strings } from '../strings';
import type { GalleyView } from '@/contract/galley';
import { asQuery } from './address';
import { Choice } from '../primitives/choice';

const FORMATS = ['csv', 'xlsx', 'json'] as const;
const BY = ['picture', 'appearance'] as const;

/** The view as a table to take away. */
export function ListMenu({ collection, view }: { collection: string; view: GalleyView }) {
  const s = strings.lists;
  const query = asQuery(view);
  return (
    <Choice
      label={s.choose}
      value=""
      className="pick quiet"
      options={FORMATS.flatMap((format) =>
        BY.map((by) => ({ value: `${by}.${format}`, label: s.by[by], group: s.formats[format] })),
      )}
      onChange={(value) => {
        const [by, format] = value.split('.');
        query.set('by', by!);
        window.location.assign(`/api/collections/${collection}/list/${format}?${query}`);
      }}
    >
      {s.download}
    </Choice>
  );
}
