'use client';

import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { colourMessage } from '@/core/picture/names';
import type { DeskPicture } from '@/contract/desk';
import type { Appearance } from '@/core/model/appearance';
import { Outlines, PictureDetailsView } from './picture-facts';
import { DialogContent } from '../primitives/dialog-content';
import { strings } from '../strings';

interface Props {
  collection: string;
  data: DeskPicture;
}

/** The picture, large, with what was recognised in it outlined where that is wanted. */
export function Plate({ collection, data }: Props) {
  const [show, setShow] = useState({ text: false, things: false });
  const { details } = data;
  const found = { text: (details?.lines.length ?? 0) > 0, things: (details?.things.length ?? 0) > 0 };
  const s = strings.desk;
  const { picture } = data;
  const src = `/found/${collection}/${picture.id}`;
  const shows = picture.sha256 !== null && !picture.broken;
  return (
    <section aria-label={s.picture} className="desk-picture">
      {shows ? (
        <Dialog.Root>
          <Dialog.Trigger className="block w-full cursor-zoom-in">
            <span className="relative mx-auto block w-fit max-w-full">
              <img src={src} alt={s.whole} className="plate max-h-[220px] max-w-full lg:max-h-[294px]" />
              <Outlines details={details} show={show} />
            </span>
          </Dialog.Trigger>
          <Dialog.Portal>
            <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/40" />
            <DialogContent className="fixed inset-3 z-40 grid grid-rows-[auto_1fr] border-[1.5px] border-ink bg-sheet">
              <div className="flex items-center justify-between gap-4 border-b border-hair px-4 py-2">
                <Dialog.Title className="font-bold break-all">{strings.pictureName(data.name)}</Dialog.Title>
                <Dialog.Description className="sr-only">{s.whole}</Dialog.Description>
                <Dialog.Close className="button quiet">{strings.keys.close}</Dialog.Close>
              </div>
              <div className="overflow-auto p-3" tabIndex={0} role="group" aria-label={strings.pictureName(data.name)}>
                <span className="relative mx-auto block w-fit">
                  <img src={src} alt="" className="plate max-w-none" />
                  <Outlines details={details} show={show} />
                </span>
              </div>
            </DialogContent>
          </Dialog.Portal>
        </Dialog.Root>
      ) : (
        <p className="flex min-h-[120px] items-center justify-center border border-dashed border-hair-2 p-6 text-center text-ink-2">
          {picture.broken
            ? s.broken(strings.message(picture.broken))
            : picture.unread
              ? s.unread(strings.message(picture.unread))
              : s.noPicture}
        </p>
      )}
      {shows && (found.text || found.things) && (
        <fieldset className="mt-2 flex flex-wrap items-center gap-x-4 text-[13px] text-ink-2">
          <legend className="sr-only">{s.details.outline}</legend>
          <span aria-hidden="true">{s.details.outline}</span>
          {(['text', 'things'] as const)
            .filter((what) => found[what])
            .map((what) => (
              <label key={what} className="inline-flex min-h-6 items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={show[what]}
                  onChange={() => setShow({ ...show, [what]: !show[what] })}
                />
                {what === 'text' ? s.details.outlineText : s.details.outlineThings}
              </label>
            ))}
        </fieldset>
      )}
    </section>
  );
}

interface FactsProps extends Props {
  reading: Appearance;
  lang: string | null;
  say(text: string): void;
  /** Puts lines into the long description. */
  describe(lines: readonly string[]): void;
}

/** The facts about the picture's file, and what was seen in it. */
export function PictureFacts({ collection, data, reading, lang, say, describe }: FactsProps) {
  const s = strings.desk;
  const { picture, details } = data;
  const src = `/found/${collection}/${picture.id}`;
  const type = picture.type?.replace(/^image\/|\+xml$/g, '').toUpperCase();
  return (
    <section aria-label={s.facts} className="px-4 pt-1 pb-3 sm:px-6">
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-[13px] text-ink-2">
        <b className="font-semibold break-all text-ink">{strings.pictureName(data.name)}</b>
        {picture.width !== null && picture.height !== null && <span>{s.natural(picture.width, picture.height)}</span>}
        {reading.layout.width !== null && reading.layout.height !== null && (
          <span>{s.shown(reading.layout.width, reading.layout.height)}</span>
        )}
        {picture.bytes !== null && <span>{`${strings.weight(picture.bytes)} ${type ?? ''}`}</span>}
        {picture.smallerCopyBytes !== null &&
          picture.bytes !== null &&
          picture.smallerCopyBytes < picture.bytes * 0.8 && (
            <a href={`${src}/lighter`} download>
              {s.details.lighter(strings.weight(picture.smallerCopyBytes))}
            </a>
          )}
        {picture.colours.length > 0 && (
          <span>
            {picture.colours
              .slice(0, 3)
              .map((c) => strings.message(colourMessage(c)))
              .join(', ')}
          </span>
        )}
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
      {details && <PictureDetailsView details={details} lang={lang} say={say} describe={describe} />}
    </section>
  );
}
