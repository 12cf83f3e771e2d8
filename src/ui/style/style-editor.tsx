'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import type { JobProgress } from '@/contract/jobs';
import type { RuleSetting, StyleEffect, StyleEffects } from '@/contract/house-style';
import type { RuleStyle } from '@/core/rules/audit';
import type { Field } from '@/core/house-style/fields';
import { RULE_GROUPS } from '@/core/rules/support/rule';
import { BackgroundJobs } from '../frame/background-jobs';
import { useActs } from '../frame/acts';
import { Heard } from '../primitives/heard';
import { Pick } from '../primitives/pick';
import { strings } from '../strings';
import { Fields } from './fields';
import { parameter, sameStyle, standingOf, withParameter, withStanding, type Standing } from './style-draft';

interface Props {
  collection: string;
  name: string;
  rules: readonly RuleSetting[];
  kept: RuleStyle;
  /** What is done in the background. */
  jobs: readonly JobProgress[];
  effectOf(collection: string, style: RuleStyle): Promise<StyleEffects>;
  saveHouseStyle(collection: string, style: RuleStyle, act: string): Promise<void>;
  readStyle(text: string): Promise<{ style: RuleStyle } | { error: string }>;
}

/** Milliseconds after the last change before its effect is asked for. */
const QUIET = 300;

/** All of a collection's settings, each with its effect on the collection's own texts before it is kept. */
export function StyleEditor(props: Props) {
  const { collection, rules, kept, jobs, effectOf, saveHouseStyle, readStyle } = props;
  const s = strings.style;
  const router = useRouter();
  const { did, onTurn } = useActs();
  const [style, setStyle] = useState(kept);
  const [from, setFrom] = useState(kept);
  // Undone or saved elsewhere, what was not changed here follows.
  if (from !== kept) {
    if (sameStyle(rules, style, from)) setStyle(kept);
    setFrom(kept);
  }
  useEffect(() => onTurn(() => router.refresh()), [onTurn, router]);
  const [effect, setEffect] = useState<{ of: RuleStyle; effects: StyleEffects } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const changed = !sameStyle(rules, style, kept);

  useEffect(() => {
    if (!changed) return;
    let current = true;
    const timer = setTimeout(() => {
      effectOf(collection, style).then(
        (effects) => {
          if (!current) return;
          setEffect({ of: style, effects });
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
    () =>
      changed && effect ? new Map(effect.effects.effects.map((e) => [e.rule, e])) : new Map<string, StyleEffect>(),
    [changed, effect],
  );
  const keep = async () => {
    try {
      const act = crypto.randomUUID();
      await saveHouseStyle(collection, style, act);
      did(s.kept, { what: strings.undo.houseStyle, act });
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
  const row = { effects, waiting: changed && effect?.of !== style };
  const fieldsOf = (r: RuleSetting, section?: Field['section']) => (
    <Fields
      rule={r}
      fields={r.fields.filter((f) => f.section === section)}
      value={(name) => parameter({ rules, style }, r.id, name)}
      change={(name, value) => setStyle((before) => withParameter(before, r.id, name, value))}
    />
  );

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

      {RULE_GROUPS.map((group) => {
        const own = rules.filter((r) => r.group === group && r.fields.some((f) => f.section === undefined));
        return (
          own.length > 0 && (
            <Section key={group} title={strings.rules.groups[group]}>
              {own.map((r) => (
                <Row key={r.id} {...row} rules={[r.id]}>
                  {fieldsOf(r)}
                </Row>
              ))}
            </Section>
          )
        );
      })}
      <Section title={s.documents}>
        {rules
          .filter((r) => r.fields.some((f) => f.section === 'documents'))
          .map((r) => (
            <Row key={r.id} {...row} rules={[]}>
              {fieldsOf(r, 'documents')}
            </Row>
          ))}
      </Section>

      <Section title={s.rules}>
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
          <span role="status">{row.waiting ? s.counting : effect && summary(effect.effects)}</span>
          <button type="button" className="button quiet ml-auto" onClick={() => setStyle(kept)}>
            {s.discard}
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
            <li key={x.text + strings.message(x.message)}>
              {x.text && (
                <>
                  <Heard text={x.text.length > 90 ? `${x.text.slice(0, 89)}…` : x.text} lang={x.lang} />{' '}
                </>
              )}
              {strings.message(x.message)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
