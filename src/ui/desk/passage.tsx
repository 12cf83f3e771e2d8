import type { DeskPlace } from '@/contract/desk';
import { strings } from '../strings';
import { spotName } from '../primitives/place-name';
import { PageFrame } from './page-frame';
import { heardAs } from './speech';

interface Props {
  collection: string;
  place: DeskPlace;
  text: string;
  lang: string | null;
}

/** The passage as it reads, with the words standing in it as they will be heard. */
export function Passage({ collection, place, text, lang }: Props) {
  const s = strings.desk;
  const { reading } = place;
  const words = text.trim();
  const isSilent = words === '' && place.state === 'decorative' && reading.context.control?.text !== '';
  const here = isSilent ? s.decorative : heardAs(reading, words);
  const isDocument = (place.page.format ?? 'html') !== 'html';
  const path = reading.context.headings.includes(place.pageName)
    ? reading.context.headings
    : [place.pageName, ...reading.context.headings];
  return (
    <section aria-label={s.passage} className="px-4 pt-2 pb-3.5 sm:px-6">
      <p className="mb-1.5 text-[13px] break-words text-ink-2">
        {path.join(' › ')}
        {isDocument && ` · ${spotName(place.page, reading)}`}
      </p>
      <p lang={lang ?? undefined} dir="auto" className="font-heard text-[16.5px] leading-[1.55] text-ink-2">
        {reading.context.before}{' '}
        <mark className={`passage-here px-1 py-px text-ink ${words === '' ? 'italic' : ''}`}>{here}</mark>{' '}
        {reading.context.after}
      </p>
      {reading.context.caption && (
        <p className="mt-1 font-heard text-[15px] text-ink-2 italic" lang={lang ?? undefined}>
          {reading.context.caption}
        </p>
      )}
      {isDocument && <PageFrame key={place.id} collection={collection} place={place} />}
    </section>
  );
}
