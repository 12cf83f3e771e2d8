'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import type { JobProgress } from '@/contract/jobs';
import type { RuleSetting, StyleEffect, StyleEffects } from '@/contract/house-style';
import type { RuleStyle } from '@/core/audit';
import { RULE_GROUPS } from '@/core/rules/support/rule';
import { BackgroundJobs } from '../frame/background-jobs';
import { useActs } from '../frame/acts';
import { Heard } from '../primitives/heard';
import { Pick } from '../primitives/pick';
import { strings } from '../strings/en';
import { ListField, NumberField, TextField } from './fields';
import {
  linesOf,
  pairLines,
  pairsOf,
  parameter,
  sameStyle,
  standingOf,
  withParameter,
  withStanding,
  type Standing,
} from './style-draft';

interface Props {
  collection: string;
  name: string;
  rules: readonly RuleSetting[];
  kept: RuleStyle;
  /** What is done in the background. */
  jobs: readonly JobProgress[];
  effectOf(collection: string, style: RuleStyle): Promise<StyleEffects>;
  saveHouseStyle(collection: string, style: RuleStyle): Promise<void>;
  readStyle(text: string): Promise<{ style: RuleStyle } | { error: string }>;
}

/** Milliseconds after the last change before its effect is asked for. */
const QUIET = 300;

/** All of a collection's settings, each with its effect on the collection's own texts before it is kept. */
export function StyleEditor(props: Props) {
  const { collection, rules, kept, jobs, effectOf, saveHouseStyle, readStyle } = props;
  const s = strings.style;
  const router = useRouter();
  const { did } = useActs();
  const [style, setStyle] = useState(kept);
  const [told, setTold] = useState<{ of: RuleStyle; effects: StyleEffects } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const changed = !sameStyle(rules, style, kept);

  useEffect(() => {
    if (!changed) return;
    let current = true;
    const timer = setTimeout(() => {
      effectOf(collection, style).then(
        (effects) => {
          if (!current) return;
          setTold({ of: style, effects });
          setProblem(null);
        },
        () => current && setProblem(strings.failed),
      );
    }, QUIET);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [changed, collection, style, effectOf]);

  const effects = useMemo(
    () => (changed && told ? new Map(told.effects.effects.map((e) => [e.rule, e])) : new Map<string, StyleEffect>()),
    [changed, told],
  );
  const draft = { rules, style };
  const get = <T,>(rule: string, name: string) => parameter<T>(draft, rule, name);
  const set = (rule: string, name: string) => (value: unknown) =>
    setStyle((before) => withParameter(before, rule, name, value));
  const number = (rule: string, name: string, label: string, min: number, max: number, step = 1, unit = 1) => (
    <NumberField
      label={label}
      value={Math.round((get<number>(rule, name) / unit) * 100) / 100}
      min={min}
      max={max}
      step={step}
      change={(v) => set(rule, name)(step < 1 || unit < 1 ? Math.round(v * unit * 1000) / 1000 : Math.round(v * unit))}
    />
  );
  const list = (rule: string, name: string, label: string, about: string) => (
    <ListField
      label={label}
      about={about}
      value={get<string[]>(rule, name).join('\n')}
      change={(text) => set(rule, name)(linesOf(text))}
    />
  );

  const keep = async () => {
    try {
      await saveHouseStyle(collection, style);
      did(s.kept, null);
      router.refresh();
    } catch {
      setProblem(strings.failed);
    }
  };
  const read = async (file: File | undefined) => {
    if (!file) return;
    const answer = await readStyle(await file.text());
    if ('error' in answer) setProblem(answer.error);
    else {
      setProblem(null);
      setStyle(answer.style);
    }
  };
  const row = { effects, waiting: changed && told?.of !== style };

  return (
    <div className="max-w-[1060px]">
      <h1 className="text-[25px] leading-[1.42]">{s.lead(props.name, Object.keys(kept).length)}</h1>
      <p className="mt-1 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[14px] text-ink-2">
        <span>{s.about}</span>
        <a href={`/api/collections/${collection}/house-style`} download>
          {s.take}
        </a>
        <label className="link inline-block cursor-pointer border-b border-key text-key focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-key">
          {s.read}
          <input
            type="file"
            accept="application/json,.json"
            className="sr-only"
            onChange={(e) => {
              void read(e.target.files?.[0]);
              e.target.value = '';
            }}
          />
        </label>
      </p>
      <BackgroundJobs collection={collection} jobs={jobs} />
      {problem && (
        <p role="alert" className="mt-2 text-fails">
          {problem}
        </p>
      )}

      <Section title={s.sections.length}>
        <Row {...row} rules={['overlong']}>
          {s.overFrom} {number('overlong', 'limit', s.labels.limit, 20, 1000)} {s.charactersAndLong}{' '}
          {number('overlong', 'longDescription', s.labels.longDescription, 50, 2000)}.
        </Row>
        <Row {...row} rules={['too-brief']}>
          {s.briefBelow} {number('too-brief', 'minimum', s.labels.minimum, 1, 50)} {s.characters}
        </Row>
      </Section>

      <Section title={s.sections.wording}>
        <Row {...row} rules={['house-style']}>
          <div className="grid gap-4 md:grid-cols-3">
            {list('house-style', 'banned', s.labels.banned, s.oneALine)}
            {list('house-style', 'required', s.labels.required, s.oneALine)}
            <ListField
              label={s.labels.preferred}
              about={s.pairs}
              value={pairLines(get<{ instead: string; use: string }[]>('house-style', 'preferred'))}
              change={(text) => set('house-style', 'preferred')(pairsOf(text))}
            />
          </div>
          <p className="mt-3 leading-loose">
            {s.begins}{' '}
            <TextField
              label={s.labels.prefix}
              value={get<string>('house-style', 'prefix')}
              change={set('house-style', 'prefix')}
            />{' '}
            {s.ends}{' '}
            <TextField
              label={s.labels.suffix}
              value={get<string>('house-style', 'suffix')}
              change={set('house-style', 'suffix')}
            />
            . {s.firstLetter}{' '}
            <Pick
              label={s.labels.firstLetter}
              value={get<string>('house-style', 'firstLetter')}
              options={options(s.firstLetters)}
              onChange={set('house-style', 'firstLetter')}
            />
            , {s.closingStop}{' '}
            <Pick
              label={s.labels.closingStop}
              value={get<string>('house-style', 'closingStop')}
              options={options(s.closingStops)}
              onChange={set('house-style', 'closingStop')}
            />
            . {s.between} {number('house-style', 'minimum', s.labels.least, 0, 1000)} {s.and}{' '}
            {number('house-style', 'maximum', s.labels.most, 0, 2000)} {s.charactersOrNone}
          </p>
        </Row>
        <Row {...row} rules={['misspelt']}>
          {list('misspelt', 'words', s.labels.words, s.wordsAbout)}
        </Row>
        <Row {...row} rules={['other-language']}>
          {s.languageFrom} {number('other-language', 'letters', s.labels.letters, 10, 500)} {s.letters}
        </Row>
      </Section>

      <Section title={s.sections.keywords}>
        <Row {...row} rules={['stuffed']}>
          {list('stuffed', 'keywords', s.labels.keywords, s.keywordsAbout)}
          <p className="mt-2">
            {s.stuffedFrom} {number('stuffed', 'threshold', s.labels.threshold, 0.1, 1, 0.05)}.
          </p>
        </Row>
        <Row {...row} rules={['boilerplate']}>
          {s.phraseIn} {number('boilerplate', 'share', s.labels.share, 5, 100, 1, 0.01)} {s.percentAndAtLeast}{' '}
          {number('boilerplate', 'atLeast', s.labels.atLeast, 2, 10_000)}.
        </Row>
      </Section>

      <Section title={s.sections.pictures}>
        <Row {...row} rules={['needs-long-description']}>
          {s.captionFrom} {number('needs-long-description', 'caption', s.labels.caption, 0, 2000)} {s.characters}
        </Row>
        <Row {...row} rules={['needs-long-description']}>
          {s.manyWordsFrom} {number('needs-long-description', 'words', s.labels.manyWords, 1, 1000)} {s.wordsInIt}
        </Row>
        <Row {...row} rules={['text-not-in-alt']}>
          {s.textFrom} {number('text-not-in-alt', 'missing', s.labels.missing, 10, 100, 1, 0.01)} {s.percentAndLeast}{' '}
          {number('text-not-in-alt', 'least', s.labels.leastWords, 1, 100)} {s.wordsUnheard}
        </Row>
        <Row {...row} rules={['uncredited']}>
          {list('uncredited', 'own', s.labels.own, s.ownAbout)}
        </Row>
        <Row {...row} rules={['heavy-file']}>
          {s.heavyOver} {number('heavy-file', 'limit', s.labels.heavy, 1, 100_000, 1, 1024)} KB.
        </Row>
        <Row {...row} rules={['oversized']}>
          {s.widerThan} {number('oversized', 'times', s.labels.times, 1, 20, 0.1)} {s.timesShown}
        </Row>
        <Row {...row} rules={['hotlinked']}>
          {list('hotlinked', 'hosts', s.labels.hosts, s.hostsAbout)}
        </Row>
      </Section>

      <Section title={s.sections.rules}>
        {RULE_GROUPS.map((group) => (
          <div key={group} className="mt-3">
            <h3 className="text-[14px] font-bold text-ink-2">{strings.rules.groups[group]}</h3>
            {rules
              .filter((r) => r.group === group)
              .map((r) => (
                <Row key={r.id} {...row} rules={[r.id]} quiet={!isStandingChanged(kept, style, r.id)}>
                  <Link href={`/c/${collection}/rules/${r.id}`} className="text-ink">
                    {r.title}
                  </Link>{' '}
                  <Pick
                    label={r.title}
                    value={standingOf(style, r.id)}
                    options={options(s.standings)}
                    onChange={(v) => setStyle((before) => withStanding(before, r.id, v as Standing))}
                  />
                </Row>
              ))}
          </div>
        ))}
      </Section>

      {changed && (
        <div className="bar sticky bottom-0 z-20 mt-8 border-t border-ink bg-paper">
          <b className="text-ink">{s.changed}</b>
          <span role="status">{row.waiting ? s.counting : told && summary(told.effects)}</span>
          <button type="button" className="button quiet ml-auto" onClick={() => setStyle(kept)}>
            {s.letGo}
          </button>
          <button type="button" className="button" onClick={() => void keep()}>
            {s.keep}
          </button>
        </div>
      )}
    </div>
  );
}

const options = (words: Readonly<Record<string, string>>) =>
  Object.entries(words).map(([value, label]) => ({ value, label }));

const isStandingChanged = (kept: RuleStyle, style: RuleStyle, rule: string) =>
  standingOf(kept, rule) !== standingOf(style, rule);

function summary({ effects, counted, of }: StyleEffects): string {
  const more = effects.reduce((n, e) => n + Math.max(0, e.after - e.before), 0);
  const fewer = effects.reduce((n, e) => n + Math.max(0, e.before - e.after), 0);
  return strings.style.summary(more, fewer, counted, of);
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-7">
      <h2 className="rule-below text-[16px] font-bold">{title}</h2>
      {children}
    </section>
  );
}

interface RowProps {
  /** Whose effect stands in the margin. */
  rules: readonly string[];
  effects: ReadonlyMap<string, StyleEffect>;
  waiting: boolean;
  /** The effect is reported elsewhere. */
  quiet?: boolean;
  children: ReactNode;
}

/** A setting as a sentence, and what it does in the margin. */
function Row({ rules, effects, waiting, quiet = false, children }: RowProps) {
  const own = quiet ? [] : rules.flatMap((r) => effects.get(r) ?? []);
  return (
    <div className="grid gap-x-8 gap-y-2 border-b border-hair py-3 lg:grid-cols-[minmax(0,1fr)_330px]">
      <div className="min-w-0 leading-[2.1]">{children}</div>
      <div className={`border-hair text-[14px] lg:border-l lg:pl-4 ${waiting ? 'opacity-60' : ''}`}>
        {own.map((e) => (
          <EffectView key={e.rule} effect={e} />
        ))}
      </div>
    </div>
  );
}

function EffectView({ effect: e }: { effect: StyleEffect }) {
  const s = strings.style;
  const by = e.after - e.before;
  return (
    <div className="note relative">
      <b>{s.effect(by, e.counts)}</b> <span className="text-ink-2">{s.inAll(e.after, e.counts)}</span>
      {e.examples.length > 0 && (
        <ul className="mt-1 grid gap-1 text-ink-2">
          {e.examples.map((x) => (
            <li key={x.text + x.message}>
              {x.text && (
                <>
                  <Heard text={x.text.length > 90 ? `${x.text.slice(0, 89)}…` : x.text} lang={x.lang} />{' '}
                </>
              )}
              {x.message}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
