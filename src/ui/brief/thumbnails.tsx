'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { BulkWork } from '@/contract/bulk';
import type { Thumbnails } from '@/contract/brief';
import type { Target } from '@/contract/target';
import { ChangedText } from '../galley/changed-text';
import { useBulk, usePreview } from '../galley/use-bulk';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';

const WORK: BulkWork = { kind: 'page-title' };
const ASKED = JSON.stringify(WORK);

interface Props {
  collection: string;
  thumbnails: Thumbnails;
}

/** Thumbnails that need a text: one line, and one decision for all of them. */
export function ThumbnailsLine({ collection, thumbnails: { places, pages, of } }: Props) {
  const s = strings.brief.thumbnails;
  const router = useRouter();
  const { perform, share } = useBulk(collection);
  const [isOpen, setOpen] = useState(false);
  const target: Target = { kind: 'places', places };
  return (
    <section aria-labelledby="thumbnails" className="mt-6">
      <h2 id="thumbnails" tabIndex={-1} className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <p className="mt-2 max-w-[72ch] text-[14px] text-ink-2">{s.about}</p>
      <p className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 border-b border-hair py-2 text-[14px]">
        <span className="min-w-0">
          <b>{s.count(places.length)}</b> <span className="text-ink-2">{s.where(strings.pages(pages), of)}</span>
        </span>
        <button type="button" className="link" disabled={share !== null} onClick={() => setOpen(true)}>
          {s.open}
        </button>
      </p>
      {isOpen && (
        <ThumbnailsDialog
          collection={collection}
          target={target}
          perform={() => void perform(target, WORK).then(() => router.refresh())}
          close={() => setOpen(false)}
        />
      )}
    </section>
  );
}

function ThumbnailsDialog({
  collection,
  target,
  perform,
  close,
}: {
  collection: string;
  target: Target;
  perform(): void;
  close(): void;
}) {
  const s = strings.brief.thumbnails;
  const preview = usePreview(collection, target, ASKED);
  const places = preview?.places ?? 0;
  const submit = { label: s.act(strings.places(places)), can: places > 0, run: perform };
  return (
    <Modal title={s.dialog} about={s.dialogAbout} wide submit={submit} close={close}>
      <p role="status" className="mt-3 min-h-6 text-[14.5px]">
        {preview === null
          ? strings.bulk.counting
          : strings.bulk.would['page-title'](strings.places(places), strings.pictures(preview.pictures))}
      </p>
      {preview !== null && preview.changes.length > 0 && (
        <ul
          aria-label={strings.replace.changes}
          tabIndex={0}
          className="mt-1 grid max-h-[320px] gap-2 overflow-y-auto border-y border-hair py-2"
        >
          {preview.changes.map((change) => (
            <li key={JSON.stringify([change.before, change.after])}>
              <ChangedText change={change} />
            </li>
          ))}
        </ul>
      )}
      {preview !== null && preview.texts > preview.changes.length && (
        <p className="mt-1 text-[13.5px] text-ink-2">{strings.replace.more(preview.texts - preview.changes.length)}</p>
      )}
    </Modal>
  );
}
