import { useId, useState, type ReactNode } from 'react';
import type { FieldText } from '@/contract/desk';
import { strings } from '../strings';
import { FieldHistory, OtherText } from './field-parts';
import { Fold } from './fold';
import type { WrittenField } from './use-field-text';

interface Props {
  title: string;
  /** What such a text is for, in one line. */
  about: string;
  field: FieldText;
  written: WrittenField;
  lang: string | null;
  now: string;
  /** What speaks against the text as it is written; null when nothing does. */
  warning: string | null;
  /** Why a text cannot be saved; null when it can. */
  check?(text: string): string | null;
  /** Where it goes, and what else is to be said of it. */
  children?: ReactNode;
}

/** A short text of a picture besides its alt text: what it is for, what it says, its history. */
export function TextFieldFold({ title, about, field, written, lang, now, warning, check, children }: Props) {
  const s = strings.desk.field;
  const id = useId();
  const { other, choose } = written;
  // What cannot be saved stays in the field only.
  const [refusedText, setRefusedText] = useState<string | null>(null);
  const text = refusedText ?? written.text;
  const reason = refusedText === null ? null : (check?.(refusedText) ?? null);
  const problem = reason === null ? warning : s.notSaved(reason);
  const change = (next: string) => {
    const isFine = (check?.(next) ?? null) === null;
    setRefusedText(isFine ? null : next);
    if (isFine) written.change(next);
  };
  const isChanged = text.trim() !== field.found.trim();
  return (
    <Fold title={title} summary={<Summary text={text} field={field} problem={problem} lang={lang} />}>
      <p id={`${id}-about`} className="mb-1.5 max-w-[72ch] text-[13.5px] text-ink-2">
        {about}
      </p>
      {field.refused ? (
        <p className="text-[14px]">
          {text !== '' && <span lang={lang ?? undefined}>{text} </span>}
          <span className="text-look">
            {s.refused} {strings.message(field.refused)}
          </span>
        </p>
      ) : (
        <>
          <input
            className="field w-full max-w-[640px] text-[14px]"
            value={text}
            onChange={(e) => change(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') e.currentTarget.closest('details')?.querySelector('summary')?.focus();
            }}
            data-written={written.status === 'untouched' ? 'no' : 'yes'}
            aria-label={title}
            aria-describedby={`${id}-about ${id}-problem`}
            aria-invalid={reason !== null || undefined}
            lang={lang ?? undefined}
            dir="auto"
            spellCheck={lang !== null}
          />
          <p id={`${id}-problem`} className="mt-1 max-w-[72ch] text-[13.5px] text-look empty:hidden">
            {problem}
          </p>
          {other !== null && <OtherText title={title} other={other} choose={choose} />}
          <div className="fixes mt-1 text-[13.5px]">
            {isChanged && field.found !== '' && (
              <button type="button" className="link" onClick={() => change(field.found)}>
                {s.takeBack(field.found)}
              </button>
            )}
            {children}
          </div>
        </>
      )}
      <FieldHistory title={title} history={field.history} lang={lang} now={now} show={(t) => t} use={change} />
    </Fold>
  );
}

function Summary({
  text,
  field,
  problem,
  lang,
}: Pick<Props, 'field' | 'lang'> & { text: string; problem: string | null }) {
  const s = strings.desk.field;
  const found = field.found.trim();
  return (
    <>
      {text.trim() === '' ? found === '' ? s.none : s.toGo : <span lang={lang ?? undefined}>{text}</span>}
      {problem !== null && <span className="text-look"> · {problem}</span>}
    </>
  );
}
