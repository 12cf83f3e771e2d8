'use client';

import Link from 'next/link';
import { useEffect } from 'react';
import type { GalleyView, Line } from '@/contract/galley';
import { Heard } from '../primitives/heard';
import { StateWord } from '../primitives/mark';
import { Note } from '../primitives/note';
import { strings } from '../strings';
import { galleyHref } from './address';

interface Props {
  collection: string;
  name: string;
  view: GalleyView;
  total: number;
  lines: readonly Line[];
}

/** All lines of a view one below the other, for paper; it asks the browser to print once the pictures are there. */
export function PrintedGalley({ collection, name, view, total, lines }: Props) {
  const s = strings.printed;
  useEffect(() => {
    const pictures = [...document.images].filter((image) => !image.complete);
    const loaded = pictures.map((image) => new Promise((resolve) => (image.onload = image.onerror = resolve)));
    let isHere = true;
    void Promise.all(loaded).then(() => isHere && window.print());
    return () => {
      isHere = false;
    };
  }, []);
  return (
    <div className="sheet printed">
      <p className="no-print mb-4 flex gap-4">
        <Link href={galleyHref(collection, view)}>{s.back}</Link>
        <button type="button" className="link" onClick={() => window.print()}>
          {s.print}
        </button>
      </p>
      <h1 className="text-[22px] font-bold">{s.heading(name)}</h1>
      <p className="mb-3 text-ink-2">{lines.length < total ? s.some(lines.length, total) : s.all(total)}</p>
      <ol>
        {lines.map((line, i) => (
          <li key={`${line.id} ${line.appearanceId}`} className="printed-line">
            <span className="font-code text-[13px] text-ink-2">{i + 1}</span>
            <span>{line.thumb && <img src={line.thumb} alt="" className="plate max-h-[72px] max-w-[104px]" />}</span>
            <div className="min-w-0">
              <p className="text-[16px]">
                {line.heard ? (
                  <Heard text={line.heard} lang={line.lang} />
                ) : (
                  <i className="font-heard">
                    {line.state === 'decorative' ? strings.decorativeHere : strings.nothingSaid}
                  </i>
                )}
              </p>
              <p className="flex flex-wrap gap-x-3 text-[13px] text-ink-2">
                <StateWord state={line.state} />
                {line.draft !== null && <StateWord state="draft" />}
                <span>{strings.desk.purposes[line.purpose].toLowerCase()}</span>
                <span>{line.isPlace ? line.page : strings.galley.onPages(line.reach)}</span>
                <span className="break-all">{strings.pictureName(line.name)}</span>
              </p>
              {line.texts.map((text) => (
                <p key={text.appearanceId} className="text-[14px] text-ink-2">
                  {strings.galley.inPlacesElsewhere(text.places)}{' '}
                  {text.state === 'described' ? (
                    <Heard text={text.heard} lang={text.lang} />
                  ) : (
                    <i className="font-heard">
                      {text.state === 'decorative' ? strings.decorativeHere : strings.nothingSaid}
                    </i>
                  )}
                </p>
              ))}
              {line.notes.map((note) => (
                <Note key={note.rule} outcome={note.outcome} message={note.message} />
              ))}
            </div>
          </li>
        ))}
      </ol>
    </div>
  );
}
