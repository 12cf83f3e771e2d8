'use client';

import type { Ref } from 'react';
import type { DeskPicture } from '@/contract/desk';
import type { Placement } from '@/core/model/texts';
import { fileNameProblem } from '@/core/picture/file-name';
import { wordsKey } from '@/core/words/graphemes';
import { strings } from '../strings';
import { LongDescription, type LongField } from './long-description';
import { TextFieldFold } from './text-field';
import type { OtherTexts } from './use-other-texts';

interface Props {
  data: DeskPicture;
  texts: OtherTexts;
  /** The alt text as it is written now. */
  altText: string;
  lang: string | null;
  now: string;
  /** Places that a title and a caption are for. */
  places: Record<'title' | 'caption', number>;
  /** The picture holds more than a short text can say. */
  wantsLong: boolean;
  longField: Ref<LongField>;
  place(placement: Placement): Promise<void>;
}

/** Title, caption, long description and file name: four texts that are easily taken for one another, each with its use. */
export function OtherTextsView(props: Props) {
  const { data, texts, altText, lang, now, places, wantsLong, longField, place } = props;
  const s = strings.desk;
  const shown = data.places[0]!;
  const name = s.fileName;
  return (
    <>
      <TextFieldFold
        title={s.caption.title}
        about={s.caption.about}
        field={shown.caption}
        written={texts.caption}
        lang={lang}
        now={now}
        warning={isSame(texts.caption.text, altText) ? s.caption.repeats : null}
      >
        {places.caption > 1 && <span>{s.field.goes(strings.places(places.caption))}</span>}
      </TextFieldFold>
      <LongDescription
        ref={longField}
        long={data.longDescription}
        written={texts.long}
        lang={lang}
        wanted={wantsLong}
        now={now}
        lines={data.details?.lines.map((line) => line.text) ?? []}
        data={shown.reading.context.data ?? null}
        place={place}
      />
      <TextFieldFold
        title={s.titleText.title}
        about={s.titleText.about}
        field={shown.title}
        written={texts.title}
        lang={lang}
        now={now}
        warning={titleWarning(texts.title.text, altText, shown.state === 'decorative')}
      >
        {places.title > 1 && <span>{s.field.goes(strings.places(places.title))}</span>}
      </TextFieldFold>
      <TextFieldFold
        title={name.title}
        about={name.about}
        field={data.fileName}
        written={texts.fileName}
        lang={null}
        now={now}
        warning={null}
        check={(text) => {
          const problem =
            text.trim() === data.fileName.found ? null : fileNameProblem(text.trim(), data.fileName.found);
          return problem && name.problems[problem];
        }}
      >
        {data.fileName.proposal !== null && data.fileName.proposal !== texts.fileName.text && (
          <button type="button" className="link" onClick={() => texts.fileName.change(data.fileName.proposal!)}>
            {name.use(data.fileName.proposal)}
          </button>
        )}
      </TextFieldFold>
    </>
  );
}

const isSame = (a: string, b: string) => a.trim() !== '' && wordsKey(a) === wordsKey(b);

function titleWarning(title: string, altText: string, isDecorative: boolean): string | null {
  const s = strings.desk.titleText;
  if (title.trim() === '') return null;
  if (altText.trim() === '') return isDecorative ? s.decorative : s.only;
  return isSame(title, altText) ? s.repeats : null;
}
