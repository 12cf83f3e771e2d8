'use client';

import { Fragment, useId, useState } from 'react';
import type { RuleSetting } from '@/contract/house-style';
import type { Field } from '@/core/house-style/fields';
import { Pick } from '../primitives/pick';
import { strings } from '../strings';
import { linesOf, pairLines, pairsOf } from './style-draft';

interface FieldsProps {
  rule: RuleSetting;
  /** Of these parameters of it. */
  fields: readonly Field[];
  value(name: string): unknown;
  change(name: string, value: unknown): void;
}

/** The parameters of a rule, as it declares them: lists side by side, then one sentence with fields in it. */
export function Fields({ rule, fields, value, change }: FieldsProps) {
  const isList = (field: Field) => field.kind === 'lines' || field.kind === 'pairs';
  const lists = fields.filter(isList);
  const rest = fields.filter((field) => !isList(field));
  const drawn = (field: Field) => (
    <FieldView rule={rule.id} field={field} value={value(field.name)} change={(v) => change(field.name, v)} />
  );
  return (
    <>
      {lists.length > 0 && (
        <div className={`grid gap-4 ${lists.length > 1 ? 'md:grid-cols-3' : ''}`}>
          {lists.map((field) => (
            <Fragment key={field.name}>{drawn(field)}</Fragment>
          ))}
        </div>
      )}
      {rest.length > 0 && (
        <p className={lists.length > 0 ? 'mt-2' : ''}>
          {rest.map((field) => {
            const { lead, unit } = strings.fieldWords(rule.id, field);
            return (
              <Fragment key={field.name}>
                {lead} {drawn(field)}
                {unit && /^[.,]/.test(unit) ? unit : ` ${unit ?? ''}`}{' '}
              </Fragment>
            );
          })}
        </p>
      )}
    </>
  );
}

interface FieldViewProps {
  rule: string;
  field: Field;
  value: unknown;
  /** It has a line of its own, rather than being inside a sentence. */
  isWide?: boolean;
  change(value: unknown): void;
}

/** One field, with its name for those who do not see what is beside it. */
export function FieldView({ rule, field, value, isWide = false, change }: FieldViewProps) {
  const { label, help = '', choices = {} } = strings.fieldWords(rule, field);
  switch (field.kind) {
    case 'number': {
      const scale = field.scale ?? 1;
      // Decimal fractions as people type them, not as binary ones come out.
      const rounded = (n: number) => Math.round(n * 1000) / 1000;
      return (
        <NumberField
          {...{ label, min: field.min, max: field.max, step: field.step }}
          value={rounded((value as number) / scale)}
          change={(n) => change(rounded(n * scale))}
        />
      );
    }
    case 'text':
      return <TextField label={label} value={value as string} isWide={isWide} change={change} />;
    case 'choice':
      return (
        <Pick
          label={label}
          value={value as string}
          options={Object.entries(choices).map(([key, words]) => ({ value: key, label: words }))}
          onChange={change}
        />
      );
    case 'lines':
      return (
        <ListField
          {...{ label, about: help }}
          value={(value as string[]).join('\n')}
          change={(text) => change(linesOf(text))}
        />
      );
    case 'pairs':
      return (
        <ListField
          {...{ label, about: help }}
          value={pairLines(value as Record<string, string>[], field.keys)}
          change={(text) => change(pairsOf(text, field.keys))}
        />
      );
  }
}

interface NumberProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  change(value: number): void;
}

/** A figure inside a sentence; what is no figure in its bounds is not taken, and says so. */
function NumberField({ label, value, min, max, step = 1, change }: NumberProps) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      type="number"
      aria-label={label}
      value={typed ?? String(value)}
      min={min}
      max={max}
      step={step}
      required
      className="field w-[4.4rem] leading-tight font-semibold"
      onChange={(e) => {
        setTyped(e.target.value);
        const next = e.target.valueAsNumber;
        if (e.target.validity.valid && Number.isFinite(next)) change(next);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

interface TextProps {
  label: string;
  value: string;
  isWide: boolean;
  change(value: string): void;
}

function TextField({ label, value, isWide, change }: TextProps) {
  return (
    <input
      type="text"
      aria-label={label}
      value={value}
      maxLength={isWide ? 4000 : 200}
      className={`field leading-tight font-semibold ${isWide ? 'w-full' : 'w-40'}`}
      onChange={(e) => change(e.target.value)}
    />
  );
}

interface ListProps {
  label: string;
  about: string;
  /** As the field shows it, one a line. */
  value: string;
  change(text: string): void;
}

/** One entry a line; what is typed stays as it is typed until the field is left. */
function ListField({ label, about, value, change }: ListProps) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <div className="grid gap-1 leading-normal">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <textarea
        id={id}
        rows={Math.min(6, Math.max(2, (typed ?? value).split('\n').length))}
        value={typed ?? value}
        aria-describedby={`${id}-about`}
        className="block w-full max-w-[420px] resize-y border border-hair-2 bg-sheet p-2 leading-normal"
        onChange={(e) => {
          setTyped(e.target.value);
          change(e.target.value);
        }}
        onBlur={() => setTyped(null)}
      />
      <span id={`${id}-about`} className="text-[13.5px] text-ink-2">
        {about}
      </span>
    </div>
  );
}
