'use client';

import { Dialog } from 'radix-ui';
import type { DeskPicture } from '@/contract/desk';
import type { Appearance } from '@/core/appearance';
import { strings } from '../strings/en';

interface Props {
  collection: string;
  data: DeskPicture;
  reading: Appearance;
}

/** The picture, large, and the facts about its file. */
export function Plate({ collection, data, reading }: Props) {
  const s = strings.desk;
  const { picture } = data;
  const src = `/found/${collection}/${picture.id}`;
  const shows = picture.sha256 !== null && !picture.broken;
  const type = picture.type?.replace(/^image\/|\+xml$/g, '').toUpperCase();
  return (
    <section aria-label={s.facts} className="border-b border-hair p-5 lg:border-r lg:border-b-0 lg:px-6">
      {shows ? (
        <Dialog.Root>
          <Dialog.Trigger className="block w-full cursor-zoom-in">
            <img src={src} alt={s.whole} className="plate max-h-[420px] w-full" />
          </Dialog.Trigger>
          <Dialog.Portal>
            <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/40" />
            <Dialog.Content className="fixed inset-3 z-40 grid grid-rows-[auto_1fr] border-[1.5px] border-ink bg-sheet">
              <div className="flex items-center justify-between gap-4 border-b border-hair px-4 py-2">
                <Dialog.Title className="font-bold break-all">{data.name}</Dialog.Title>
                <Dialog.Description className="sr-only">{s.whole}</Dialog.Description>
                <Dialog.Close className="button quiet">{strings.keys.close}</Dialog.Close>
              </div>
              <div className="overflow-auto p-3" tabIndex={0} role="group" aria-label={data.name}>
                <img src={src} alt="" className="plate mx-auto max-w-none" />
              </div>
            </Dialog.Content>
          </Dialog.Portal>
        </Dialog.Root>
      ) : (
        <p className="flex min-h-[200px] items-center justify-center border border-dashed border-hair-2 p-6 text-center text-ink-2">
          {picture.broken ? s.broken(picture.broken) : picture.unread ? s.unread(picture.unread) : s.noPicture}
        </p>
      )}
      <p className="mt-4 flex flex-wrap gap-x-4 gap-y-1 text-[13px] text-ink-2">
        <b className="font-semibold break-all text-ink">{data.name}</b>
        {picture.width !== null && picture.height !== null && <span>{s.natural(picture.width, picture.height)}</span>}
        {reading.shownWidth !== null && reading.shownHeight !== null && (
          <span>{s.shown(reading.shownWidth, reading.shownHeight)}</span>
        )}
        {picture.bytes !== null && <span>{`${strings.weight(picture.bytes)} ${type ?? ''}`}</span>}
        {picture.colours.length > 0 && <span>{picture.colours.slice(0, 3).join(', ')}</span>}
      </p>
      {data.addresses.length > 1 && (
        <details className="mt-2 text-[13px] text-ink-2">
          <summary className="min-h-6 cursor-pointer">{s.files(data.addresses.length)}</summary>
          <ul className="font-code break-all">
            {data.addresses.map((a) => (
              <li key={a}>{a}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
