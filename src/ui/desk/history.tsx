import type { DeskPlace } from '@/contract/desk';
import { writtenWords } from '@/core/model/wording';
import { Heard } from '../primitives/heard';
import { Fold } from './fold';
import { strings } from '../strings';

interface Props {
  place: DeskPlace;
  lang: string | null;
  now: string;
  /** Puts an earlier text into the field again; `''` marks the picture decorative. */
  use(text: string): void;
}

/** Every text that this place was given, by whom, and its outcome; the page's own last. */
export function History({ place, lang, now, use }: Props) {
  const s = strings.desk;
  const found = writtenWords(place.reading);
  const [newest] = place.history;
  const latest = place.history.find((w) => w.state === 'accepted')?.id;
  return (
    <Fold
      title={s.history}
      summary={
        newest ? (
          <>
            {strings.when(newest.at, new Date(now))}, {s.by[newest.by as 'person'][newest.state as 'accepted']}
          </>
        ) : (
          s.asFound
        )
      }
    >
      <ul className="grid gap-1 text-[14px] text-ink-2">
        {place.history.map((w) => (
          <li key={w.id}>
            {strings.when(w.at, new Date(now))}, {s.by[w.by as 'person' | 'drafter' | 'page'][w.state as 'accepted']}
            {w.draft && ` (${strings.writtenBy('drafter', w.draft)})`}: <Said text={w.text} lang={lang} />{' '}
            {w.id !== latest && w.text !== null && <UseAgain text={w.text} use={use} />}
          </li>
        ))}
        <li>
          {s.asFound}: {found === null ? strings.nothingSaid : <Said text={found} lang={lang} />}{' '}
          {found !== null && latest !== undefined && <UseAgain text={found} use={use} />}
        </li>
      </ul>
    </Fold>
  );
}

function UseAgain({ text, use }: { text: string; use(text: string): void }) {
  const s = strings.desk;
  return (
    <button type="button" className="link" onClick={() => use(text)}>
      {s.useAgain}
      <span className="sr-only">: {text === '' ? s.silenced : text}</span>
    </button>
  );
}

function Said({ text, lang }: { text: string | null; lang: string | null }) {
  if (text === null) return <>{strings.desk.givenBack}</>;
  return text === '' ? <>{strings.desk.silenced}</> : <Heard text={text} lang={lang} />;
}
