import type { TextVersion } from '@/contract/desk';
import { strings } from '../strings';

interface OtherProps {
  /** Name of the field. */
  title: string;
  /** What somebody else has saved while this one was written. */
  other: string;
  choose(choice: 'ours' | 'theirs'): void;
}

/** What somebody else has saved meanwhile, and the choice between the two. */
export function OtherText({ title, other, choose }: OtherProps) {
  const s = strings.conflict;
  return (
    <section data-conflicts aria-label={s.twoTexts(title)} className="mt-2 border-l-2 border-fails pl-3">
      <p>
        <b>{s.twoTexts(title)}.</b> {s.twoAbout}
      </p>
      <p className="my-1.5 max-h-40 overflow-auto font-code text-[13px] whitespace-pre-wrap">
        {other === '' ? strings.desk.field.none : other}
      </p>
      <p className="fixes">
        <button type="button" className="link" onClick={() => choose('theirs')}>
          {s.useSaved}
        </button>
        <button type="button" className="link" onClick={() => choose('ours')}>
          {s.keepField}
        </button>
      </p>
    </section>
  );
}

interface HistoryProps {
  title: string;
  history: readonly TextVersion[];
  lang: string | null;
  now: string;
  /** How one is shown in a line. */
  show(text: string): string;
  /** Puts an earlier text into the field again. */
  use(text: string, id: number): void;
}

/** Texts that a field shows of its history; older ones stay where they are. */
const MOST_SHOWN = 5;

/** The latest texts that a field was given, each of which can be used again. */
export function FieldHistory({ title, history, lang, now, show, use }: HistoryProps) {
  const s = strings.desk.field;
  const latest = history.find((h) => h.state === 'accepted')?.id;
  if (history.length === 0) return null;
  return (
    <ul aria-label={strings.desk.history} className="mt-2 grid gap-1 text-[13px] text-ink-2">
      {history.slice(0, MOST_SHOWN).map((h) => (
        <li key={h.id}>
          {strings.when(h.at, new Date(now))}, {s.was[h.by][h.state]}:{' '}
          {h.text === null ? (
            s.givenBack
          ) : h.text === '' ? (
            s.emptied
          ) : (
            <span lang={lang ?? undefined}>{show(h.text)}</span>
          )}
          {h.id !== latest && h.text !== null && h.text !== '' && (
            <>
              {' '}
              <button type="button" className="link" onClick={() => use(h.text!, h.id)}>
                {strings.desk.useAgain}
                <span className="sr-only">
                  : {title}, {show(h.text)}
                </span>
              </button>
            </>
          )}
        </li>
      ))}
    </ul>
  );
}
