'use client';

import { useState } from 'react';
import { Scope } from '@/contract/scope';
import { Pick } from '../primitives/pick';
import { strings } from '../strings';

const NO_LIMITS = Scope.parse({});

/** How many pages, and how far from the start. */
export function HowFar({ maxPages = 200, maxDepth = 5 }: { maxPages?: number; maxDepth?: number }) {
  const s = strings.shelf;
  return (
    <fieldset className="mt-2 flex flex-wrap items-baseline gap-x-2 gap-y-1 text-[14px] text-ink-2">
      <legend className="sr-only">{s.bounds}</legend>
      <span>{s.upTo}</span>
      <input
        name="maxPages"
        type="number"
        required
        min={1}
        max={100000}
        defaultValue={maxPages}
        aria-label={s.pagesAnd}
        className="field w-[84px] font-code"
      />
      <span>{s.pagesAnd}</span>
      <input
        name="maxDepth"
        type="number"
        required
        min={0}
        max={100}
        defaultValue={maxDepth}
        aria-label={s.linksAway}
        className="field w-[56px] font-code"
      />
      <span>{s.linksAway}</span>
    </fieldset>
  );
}

interface LimitsProps {
  /** Links are followed, so that parts of the site can be chosen. */
  follows: boolean;
  scope?: Scope;
  hasAccess?: boolean;
}

/** What few surveys need: parts of a site, and how to behave there. */
export function Limits({ follows, scope = NO_LIMITS, hasAccess = false }: LimitsProps) {
  const s = strings.shelf;
  const [reading, setReading] = useState<string>(scope.reading);
  return (
    <div className="mt-2 grid gap-x-6 gap-y-3 sm:grid-cols-2">
      {follows && (
        <>
          <label className="grid gap-1 sm:col-span-2">
            {s.prefix}
            <input
              name="prefix"
              placeholder="/"
              defaultValue={scope.prefix}
              className="field max-w-[420px] font-code"
            />
          </label>
          {(['include', 'exclude'] as const).map((name) => (
            <label key={name} className="grid gap-1">
              {s[name]}
              <textarea
                name={name}
                rows={Math.max(2, scope[name].length)}
                defaultValue={scope[name].join('\n')}
                placeholder={s.example}
                title={s.patterns}
                className="border border-hair-2 bg-sheet p-2 font-code text-ink"
              />
            </label>
          ))}
          <p className="sm:col-span-2">{s.patterns}</p>
          <label className="flex min-h-6 items-center gap-2">
            <input type="checkbox" name="sitemaps" defaultChecked={scope.sitemaps} />
            {s.sitemaps}
          </label>
        </>
      )}
      {scope.follow && (
        <label className="flex min-h-6 items-center gap-2">
          <input type="checkbox" name="documents" defaultChecked={scope.documents} />
          {s.documents}
        </label>
      )}
      <label className="flex min-h-6 items-center gap-2">
        <input type="checkbox" name="ownSite" defaultChecked={!scope.obeyRobots} />
        {s.ownSite}
      </label>
      <label className="flex min-h-6 items-center gap-2">
        <input
          name="perSecond"
          type="number"
          min={0.1}
          max={100}
          step={0.1}
          defaultValue={scope.perSecond ?? undefined}
          className="field w-[72px] font-code"
        />
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
        <p>{hasAccess ? s.accessKept : s.accessAbout}</p>
        {hasAccess && (
          <label className="flex min-h-6 items-center gap-2">
            <input type="checkbox" name="forgetAccess" />
            {s.forgetAccess}
          </label>
        )}
      </fieldset>
    </div>
  );
}
