'use client';

import { useState } from 'react';
import type { DeskPlace } from '@/contract/desk';
import { spotName } from '../primitives/place-name';
import { strings } from '../strings';

/** The page of a document as it looks, with the picture outlined, once somebody wants to see it. */
export function PageFrame({ collection, place }: { collection: string; place: DeskPlace }) {
  const s = strings.desk;
  const [isOpen, setOpen] = useState(false);
  return (
    <div className="mt-2 text-[13.5px]">
      <button type="button" className="link" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? s.hidePage : s.showPage}
      </button>
      {isOpen && (
        <iframe
          title={strings.reading.pageFrame(`${place.pageName}, ${spotName(place.page, place.reading)}`)}
          src={`/found/${collection}/page/${place.id}#detto-here`}
          sandbox="allow-same-origin"
          className="mt-1.5 h-[420px] w-full border border-hair-2 bg-white"
        />
      )}
    </div>
  );
}
