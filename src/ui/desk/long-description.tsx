'use client';

import dynamic from 'next/dynamic';
import { useImperativeHandle, useRef, useState, type Ref } from 'react';
import type { DeskPicture } from '@/contract/desk';
import type { Placement } from '@/core/model/texts';
import { longDescriptionHtml, withLines } from '@/core/words/long-description';
import { lengthOf } from '@/core/words/graphemes';
import { Copy } from '../primitives/copy';
import { strings } from '../strings';
import { FieldHistory, OtherText } from './field-parts';
import { Fold } from './fold';
import { PlacementChoice } from './placement';
import type { WrittenField } from './use-field-text';

/** Only who opens it needs the editor: it is as large as the rest of the Desk. */
const RichText = dynamic(() => import('./rich-text/rich-text').then((m) => m.RichText), {
  ssr: false,
  loading: () => <p className="text-[14px] text-ink-2">{strings.desk.long.loading}</p>,
});

/** What others may do with the field. */
export interface LongField {
  /** Opens the part, and goes to the end of the text. */
  focus(): void;
}

interface Props {
  ref: Ref<LongField>;
  long: DeskPicture['longDescription'];
  written: WrittenField;
  lang: string | null;
  /** The picture holds more than a short text can say. */
  wanted: boolean;
  now: string;
  /** Lines that were recognised in the picture. */
  lines: readonly string[];
  /** What the document draws it from, a chart's data for one, in CommonMark; null where it has none. */
  data: string | null;
  place(placement: Placement): Promise<void>;
}

/** What a short text cannot say, written with headings, lists, tables and links, and where it will stand. */
export function LongDescription({ ref, long, written, lang, wanted, now, lines, data, place }: Props) {
  const s = strings.desk.long;
  const { text, other, change, choose } = written;
  const fold = useRef<HTMLDetailsElement>(null);
  const [isOpen, setOpen] = useState(long.text !== '');
  // Counts up with each wish for the focus, which the editor may only be there for later.
  const [wish, setWish] = useState(0);
  useImperativeHandle(ref, () => ({
    focus() {
      fold.current?.setAttribute('open', '');
      setOpen(true);
      setWish((n) => n + 1);
    },
  }));
  const summary =
    text.trim() !== '' ? strings.desk.length(lengthOf(text)) : wanted ? s.wanted : strings.desk.field.none;
  return (
    <Fold ref={fold} title={s.title} open={isOpen} onToggle={setOpen} summary={summary}>
      <p className="mb-1.5 max-w-[72ch] text-[13.5px] text-ink-2">{s.about}</p>
      {text.trim() === '' && data !== null && (
        <p className="fixes mb-1.5">
          <button
            type="button"
            className="link"
            onClick={() => {
              change(data);
              setWish((n) => n + 1);
            }}
          >
            {s.beginData}
          </button>
        </p>
      )}
      {text.trim() === '' && lines.length > 0 && (
        <p className="fixes mb-1.5">
          <button
            type="button"
            className="link"
            onClick={() => {
              change(withLines(text, lines));
              setWish((n) => n + 1);
            }}
          >
            {s.begin}
          </button>
        </p>
      )}
      {isOpen && (
        <RichText
          value={text}
          label={s.field}
          lang={lang}
          isWritten={written.status !== 'untouched'}
          wish={wish}
          change={change}
          leave={() => fold.current?.querySelector('summary')?.focus()}
        />
      )}
      {other !== null && <OtherText title={s.title} other={other} choose={choose} />}
      {text.trim() !== '' && (
        <>
          {long.refused ? (
            <p className="mt-2 text-[14px] text-look">
              {strings.desk.field.refused} {strings.message(long.refused)}
            </p>
          ) : (
            <PlacementChoice placement={long.placement} places={long.places} place={place} />
          )}
          <p className="fixes mt-2 text-[13.5px]">
            <Copy text={longDescriptionHtml(text)} label={s.copy} done={s.copied} />
          </p>
        </>
      )}
      <FieldHistory
        title={s.title}
        history={long.history}
        lang={null}
        now={now}
        show={(t) => strings.desk.length(lengthOf(t))}
        use={change}
      />
    </Fold>
  );
}
