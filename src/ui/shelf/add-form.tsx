'use client';

import { startTransition, useActionState, useId, useState, type ChangeEvent, type FormEvent } from 'react';
import { Pick } from '../primitives/pick';
import { strings } from '../strings/en';

interface Answer {
  error: string | null;
}
export type SurveyAction = (before: Answer, form: FormData) => Promise<Answer>;

type Kind = 'site' | 'page' | 'list' | 'folder';

/** One sentence that puts a site or a folder on the shelf. */
export function AddForm({ localFolders, survey }: { localFolders: boolean; survey: SurveyAction }) {
  const s = strings.shelf;
  const [kind, setKind] = useState<Kind>('site');
  const [where, setWhere] = useState('');
  const [answer, submit, pending] = useActionState(survey, { error: null });
  const id = useId();
  // Not as the form's action: that would empty the sentence whenever Detto has something to say about it.
  const send = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    startTransition(() => submit(form));
  };
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
      {kind !== 'folder' && <MoreBounds follows={kind === 'site'} />}
      {answer.error && (
        <p id={`${id}-error`} role="alert" className="mt-3 text-[15px] text-fails">
          {answer.error}
        </p>
      )}
    </form>
  );
}

/** What few surveys need: parts of a site, and how to behave there. */
function MoreBounds({ follows }: { follows: boolean }) {
  const s = strings.shelf;
  const [reading, setReading] = useState('auto');
  return (
    <details className="mt-2 text-[14px] text-ink-2">
      <summary className="min-h-6 cursor-pointer">{s.more}</summary>
      <div className="mt-2 grid gap-x-6 gap-y-3 sm:grid-cols-2">
        {follows && (
          <>
            <label className="grid gap-1 sm:col-span-2">
              {s.prefix}
              <input name="prefix" placeholder="/" className="field max-w-[420px] font-code" />
            </label>
            {(['include', 'exclude'] as const).map((name) => (
              <label key={name} className="grid gap-1">
                {s[name]}
                <textarea
                  name={name}
                  rows={2}
                  placeholder="/archive/*"
                  title={s.patterns}
                  className="border border-hair-2 bg-sheet p-2 font-code text-ink"
                />
              </label>
            ))}
            <p className="sm:col-span-2">{s.patterns}</p>
            <label className="flex min-h-6 items-center gap-2">
              <input type="checkbox" name="sitemaps" defaultChecked />
              {s.sitemaps}
            </label>
          </>
        )}
        <label className="flex min-h-6 items-center gap-2">
          <input type="checkbox" name="ownSite" />
          {s.ownSite}
        </label>
        <label className="flex min-h-6 items-center gap-2">
          <input name="perSecond" type="number" min={0.1} max={100} step={0.1} className="field w-[72px] font-code" />
          {s.perSecond}
        </label>
        <p className="sm:col-span-2">
          {s.readPages}{' '}
          <Pick
            label={s.reading}
            value={reading}
            options={(['auto', 'browser', 'source'] as const).map((value) => ({ value, label: s.readings[value] }))}
            onChange={setReading}
          />
          <input type="hidden" name="reading" value={reading} />
        </p>
        <fieldset className="grid gap-2 sm:col-span-2">
          <legend>{s.access}</legend>
          <div className="flex flex-wrap gap-x-5 gap-y-2">
            {(['user', 'password', 'header', 'value'] as const).map((name) => (
              <label key={name} className="flex items-baseline gap-2">
                {s.accessFields[name]}
                <input
                  name={name}
                  type={name === 'password' || name === 'value' ? 'password' : 'text'}
                  autoComplete="off"
                  className="field w-[150px] font-code"
                />
              </label>
            ))}
          </div>
          <p>{s.accessAbout}</p>
        </fieldset>
      </div>
    </details>
  );
}
