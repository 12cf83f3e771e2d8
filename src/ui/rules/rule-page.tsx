import Link from 'next/link';
import { Fragment } from 'react';
import type { RuleStyle } from '@/core/rules/audit';
import { fieldsOf, type Field, type FieldMeta } from '@/core/house-style/fields';
import type { Message } from '@/core/model/message';
import { FORMAT_IDS } from '@/core/model/document';
import type { Example, Rule, Source } from '@/core/rules/support/rule';
import { strings } from '../strings';
import { OutcomeWords } from './outcome-words';

interface Props {
  collection: string;
  rule: Rule;
  /** What it finds in each of its examples that fail. */
  failures: readonly (Message | null)[];
  /** On how many pictures of this collection. */
  found: number;
  /** Findings of it that are set aside. */
  ignored: number;
  style: RuleStyle;
}

/** A rule's documentation: the same text, sources and examples that its tests run. */
export function RulePage({ collection, rule, failures, found, ignored, style }: Props) {
  const s = strings.rules;
  const { title, about } = strings.ruleWords(rule);
  const own = style[rule.id];
  const outcome = own?.outcome;
  return (
    <div className="max-w-[860px]">
      <p className="text-[14px]">
        <Link href={`/c/${collection}/rules`}>{s.allRules}</Link>
      </p>
      <h1 className="mt-1 text-[25px] leading-[1.3] font-bold">{title}</h1>
      <p className="mt-1 text-[14px] text-ink-2">
        <span className="font-code">{rule.id}</span> · {s.gives} <OutcomeWords outcomes={rule.gives} />·{' '}
        {s.found(found)}
        {found > 0 && (
          <>
            {' '}
            · <Link href={`/c/${collection}/galley?rule=${rule.id}`}>{s.show}</Link>
          </>
        )}
      </p>
      <p className="mt-4 max-w-[66ch] text-[17px] leading-relaxed">{about}</p>
      <h2 className="rule-below mt-6 text-[16px] font-bold">{s.here}</h2>
      <p className="mt-2">
        {own?.off ? s.isOff : outcome ? s.countsAs(strings.outcomes[outcome]) : s.asGiven}{' '}
        {ignored > 0 && s.ignored(ignored)} <Link href={`/c/${collection}/style`}>{s.setIt}</Link>
      </p>
      <Parameters rule={rule} style={style} />
      <h2 className="rule-below mt-6 text-[16px] font-bold">{s.sources}</h2>
      <SourceList sources={rule.sources} />
      <p className="mt-3">
        <b>{s.formats}</b>{' '}
        {rule.formats.length === FORMAT_IDS.length
          ? s.everyFormat
          : rule.formats.map((f) => s.formatNames[f]).join(', ')}
      </p>
      {rule.documentSources && (
        <>
          <h3 className="mt-3 text-[15px] font-bold">{s.inDocuments}</h3>
          <SourceList sources={rule.documentSources} />
        </>
      )}
      <h2 className="rule-below mt-6 text-[16px] font-bold">{s.fails}</h2>
      <ul>
        {rule.examples.fails.map((e, i) => (
          <li key={JSON.stringify(e)} className="border-b border-hair py-2.5">
            <ExampleView example={e} />
            <p className="mt-1 text-[14px] text-ink-2">{failures[i] && strings.message(failures[i])}</p>
          </li>
        ))}
      </ul>
      <h2 className="rule-below mt-6 text-[16px] font-bold">{s.passes}</h2>
      <ul>
        {rule.examples.passes.map((e) => (
          <li key={JSON.stringify(e)} className="border-b border-hair py-2.5">
            <ExampleView example={e} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function SourceList({ sources }: { sources: readonly Source[] }) {
  return (
    <ul className="mt-2">
      {sources.map((source) => (
        <li key={source.name} className="py-0.5">
          {source.url ? (
            <a href={source.url} rel="noreferrer">
              {source.name}
            </a>
          ) : (
            source.name
          )}
        </li>
      ))}
    </ul>
  );
}

/** What the rule goes by in this collection. */
function Parameters({ rule, style }: Pick<Props, 'rule' | 'style'>) {
  const set = rule.parameters.safeParse(style[rule.id]?.parameters ?? {});
  const values = (set.success ? set.data : rule.parameters.parse({})) as Record<string, unknown>;
  if (Object.keys(values).length === 0) return null;
  return (
    <dl className="mt-2 grid grid-cols-[max-content_minmax(0,1fr)] gap-x-4 gap-y-0.5 text-[14px]">
      {fieldsOf(rule).map((field) => (
        <Fragment key={field.name}>
          <dt className="text-ink-2">{strings.fieldWords(rule.id, field).label}</dt>
          <dd className="break-words">
            {shown(values[field.name], field, strings.fieldWords(rule.id, field).choices)}
          </dd>
        </Fragment>
      ))}
    </dl>
  );
}

function shown(value: unknown, field: Field, choices: FieldMeta['choices']): string {
  if (Array.isArray(value))
    return value.length === 0
      ? strings.rules.nothingElse
      : value.map((v) => (typeof v === 'object' ? Object.values(v as object).join(' → ') : String(v))).join(', ');
  if (typeof value === 'number') return strings.n(Math.round((value / (field.scale ?? 1)) * 1000) / 1000);
  return value === '' ? strings.rules.nothingElse : (choices?.[String(value)] ?? String(value));
}

function ExampleView({ example }: { example: Example }) {
  const pages = [example.html].flat();
  return (
    <>
      {pages.map((html) => (
        <code key={html} className="source-line block" lang={example.lang}>
          {html}
        </code>
      ))}
      {pages.length > 1 && <span className="text-[13px] text-ink-2">{strings.rules.onPages}</span>}
    </>
  );
}
