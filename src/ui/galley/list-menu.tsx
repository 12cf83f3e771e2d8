'use client';

import { useState } from 'react';
import type { GalleyView } from '@/contract/galley';
import { Choice } from '../primitives/choice';
import { strings } from '../strings';
import { asQuery } from './address';
import { UploadDialog } from './upload-dialog';

const FORMATS = ['xlsx', 'csv', 'json'] as const;
const BY = ['picture', 'appearance'] as const;

/** The view as a table to take away, and such a table back in. */
export function ListMenu({ collection, view }: { collection: string; view: GalleyView }) {
  const s = strings.lists;
  const [isUploading, setUploading] = useState(false);
  return (
    <>
      <Choice
        label={s.choose}
        value=""
        className="pick quiet"
        options={[
          ...FORMATS.flatMap((format) =>
            BY.map((by) => ({ value: `${by}.${format}`, label: s.by[by], group: s.downloadAs(s.formats[format]) })),
          ),
          { value: 'upload', label: s.upload, group: s.back },
        ]}
        onChange={(value) => {
          if (value === 'upload') return setUploading(true);
          const [by, format] = value.split('.');
          const query = asQuery(view);
          query.set('by', by!);
          window.location.assign(`/api/collections/${collection}/list/${format}?${query}`);
        }}
      >
        {s.lists}
      </Choice>
      {isUploading && <UploadDialog collection={collection} close={() => setUploading(false)} />}
    </>
  );
}
