'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { GalleyView } from '@/contract/galley';
import { Choice } from '../primitives/choice';
import { strings } from '../strings';
import { asQuery, printHref } from './address';
import { UploadDialog } from './upload-dialog';

const FORMATS = ['xlsx', 'csv', 'json'] as const;
const BY = ['picture', 'appearance'] as const;

/** The view as an exported table, and such a table back in. */
export function ListMenu({ collection, view }: { collection: string; view: GalleyView }) {
  const s = strings.lists;
  const router = useRouter();
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
          { value: 'print', label: strings.printed.open, group: strings.printed.group },
          { value: 'upload', label: s.upload, group: s.back },
        ]}
        onChange={(value) => {
          if (value === 'upload') return setUploading(true);
          if (value === 'print') return router.push(printHref(collection, view));
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
