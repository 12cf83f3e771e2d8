'use client';

import { startTransition, useActionState, useId, useState, type FormEvent } from 'react';
import { Pick } from '../primitives/pick';
import { strings } from '../strings/en';

interface Answer {
  error: string | null;
}
export type SurveyAction = (before: Answer, form: FormData) => Promise<Answer>;

/** One sentence that puts a site or a folder on the shelf. */
export function AddForm({ localFolders, survey }: { localFolders: boolean; survey: SurveyAction }) {
  const s = strings.shelf;
  const [kind, setKind] = useState<'site' | 'folder'>('site');
  const [where, setWhere] = useState('');
  const [answer, submit, pending] = useActionState(survey, { error: null });
  const id = useId();
  // Not as the form's action: that would empty the sentence whenever Detto has something to say about it.
  const send = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    startTransition(() => submit(form));
  };
  return (
    <form onSubmit={send} className="text-[19px]">
      <input type="hidden" name="kind" value={kind} />
      <div className="flex flex-wrap items-baseline gap-x-2 gap-y-3">
        <span>{s.survey}</span>
        {localFolders ? (
          <Pick
            label={s.what}
            value={kind}
            options={[
              { value: 'site', label: s.site },
              { value: 'folder', label: s.folder },
            ]}
            onChange={(value) => setKind(value as typeof kind)}
          />
        ) : (
          <span>{s.site}</span>
        )}
        <span>{s.at}</span>
        <input
          name="where"
          required
          value={where}
          onChange={(e) => setWhere(e.target.value)}
          aria-label={kind === 'site' ? s.address : s.path}
          aria-invalid={answer.error !== null}
          aria-describedby={answer.error ? `${id}-error` : undefined}
          placeholder={kind === 'site' ? 'https://' : '/'}
          inputMode={kind === 'site' ? 'url' : 'text'}
          autoComplete="off"
          spellCheck={false}
          className="field min-w-0 flex-1 basis-[260px] font-code text-[17px] lg:max-w-[420px]"
        />
        <button type="submit" className="button" disabled={pending}>
          {s.surveyIt}
        </button>
      </div>
      {kind === 'site' && (
        <fieldset className="mt-2 flex flex-wrap items-baseline gap-x-2 gap-y-1 text-[14px] text-ink-2">
          <legend className="sr-only">{s.bounds}</legend>
          <span>{s.upTo}</span>
          <input
            name="maxPages"
            type="number"
            min={1}
            max={100000}
            defaultValue={200}
            aria-label={s.pagesAnd}
            className="field w-[84px] font-code"
          />
          <span>{s.pagesAnd}</span>
          <input
            name="maxDepth"
            type="number"
            min={0}
            max={100}
            defaultValue={5}
            aria-label={s.linksAway}
            className="field w-[56px] font-code"
          />
          <span>{s.linksAway}</span>
        </fieldset>
      )}
      {answer.error && (
        <p id={`${id}-error`} role="alert" className="mt-3 text-[15px] text-fails">
          {answer.error}
        </p>
      )}
    </form>
  );
}
