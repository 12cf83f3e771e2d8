'use client';

import { useId, useState, type ChangeEvent } from 'react';
import { Pick } from '../primitives/pick';
import { useSentForm, type FormAction } from '../primitives/use-sent-form';
import { Limits, HowFar } from '../survey/limits';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';

type Kind = 'site' | 'page' | 'list' | 'folder';

/** One sentence that puts a site or a folder on the shelf. */
export function AddForm({ localFolders, survey }: { localFolders: boolean; survey: FormAction }) {
  const s = strings.shelf;
  const [kind, setKind] = useState<Kind>('site');
  const [where, setWhere] = useState('');
  const { answer, send, isPending } = useSentForm(survey);
  const id = useId();
  const field = {
    name: 'where',
    required: true,
    value: where,
    onChange: (e: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => setWhere(e.target.value),
    'aria-invalid': answer.error !== null,
    'aria-describedby': answer.error ? `${id}-error` : undefined,
    autoComplete: 'off',
    spellCheck: false,
  };
  return (
    <form onSubmit={send} className="text-[19px]">
      <input type="hidden" name="kind" value={kind} />
      <div className="flex flex-wrap items-baseline gap-x-2 gap-y-3">
        <span>{s.survey}</span>
        <Pick
          label={s.what}
          value={kind}
          options={[
            { value: 'site', label: s.site },
            { value: 'page', label: s.onePage },
            { value: 'list', label: s.list },
            ...(localFolders ? [{ value: 'folder', label: s.folder }] : []),
          ]}
          onChange={(value) => setKind(value as Kind)}
        />
        {kind === 'list' ? (
          <div className="basis-full">
            <textarea
              {...field}
              required={false}
              rows={4}
              aria-label={s.listOf}
              placeholder={'https://\nhttps://'}
              className="block w-full border border-hair-2 bg-sheet p-2 font-code text-[15px]"
            />
            <label className="mt-2 flex flex-wrap items-baseline gap-x-2 text-[14px] text-ink-2">
              {s.table}
              <input type="file" name="table" accept=".xlsx,.csv,.tsv,.txt" className="min-h-6" />
            </label>
          </div>
        ) : (
          <>
            <span>{s.at}</span>
            <input
              {...field}
              aria-label={kind === 'folder' ? s.path : s.address}
              placeholder={kind === 'folder' ? '/' : 'https://'}
              inputMode={kind === 'folder' ? 'text' : 'url'}
              className="field min-w-0 flex-1 basis-[260px] font-code text-[17px] lg:max-w-[420px]"
            />
          </>
        )}
        <button type="submit" className="button" {...whileBusy(isPending)}>
          {s.surveyIt}
        </button>
      </div>
      {kind === 'site' && <HowFar />}
      {kind !== 'folder' && (
        <details className="mt-2 text-[14px] text-ink-2">
          <summary className="min-h-6 cursor-pointer">{s.more}</summary>
          <Limits follows={kind === 'site'} />
        </details>
      )}
      {answer.error && (
        <p id={`${id}-error`} role="alert" className="mt-3 text-[15px] text-fails">
          {answer.error}
        </p>
      )}
    </form>
  );
}
