import type { DeskPlace } from '@/contract/desk';
import { writtenWords } from '@/core/model/wording';
import { Heard } from '../primitives/heard';
import { strings } from '../strings';

interface Props {
  place: DeskPlace;
  lang: string | null;
  now: string;
  undo(act: string): Promise<void>;
  /** Puts an earlier text into the field again; `''` marks the picture decorative. */
  use(text: string): void;
}

/** Every text that this place was given, by whom, and what became of it; the page's own last. */
export function History({ place, lang, now, undo, use }: Props) {
  const s = strings.desk;
  const found = writtenWords(place.reading);
  const latest = place.history.find((w) => w.state === 'accepted')?.id;
  return (
    <section aria-labelledby="history" className="border-t border-hair px-4 py-3.5 text-[14px] text-ink-2 sm:px-7">
      <h2 id="history" className="mb-2 text-[13px] font-bold text-ink">
        {s.history}
      </h2>
      <ul className="grid gap-1">
        {place.history.map((w) => (
          <li key={w.id}>
            {strings.when(w.at, new Date(now))}, {s.by[w.by as 'person' | 'drafter' | 'page'][w.state as 'accepted']}:{' '}
            <Said text={w.text} lang={lang} />{' '}
            {w.id === latest ? (
              <button type="button" className="link" onClick={() => void undo(w.act)}>
                {s.undoThis}
              </button>
            ) : (
              w.text !== null && <UseAgain text={w.text} use={use} />
            )}
          </li>
        ))}
        <li>
          {s.asFound}: {found === null ? strings.nothingSaid : <Said text={found} lang={lang} />}{' '}
          {found !== null && latest !== undefined && <UseAgain text={found} use={use} />}
        </li>
      </ul>
    </section>
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
