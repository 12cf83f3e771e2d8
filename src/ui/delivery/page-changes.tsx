import { diffWordsWithSpace } from 'diff';
import Link from 'next/link';
import type { DeliveryChange, DeliveryPage } from '@/contract/delivery';
import { longDescriptionHtml } from '@/core/words/long-description';
import { ownTitle } from '@/core/words/page-title';
import { Heard } from '../primitives/heard';
import { placeName } from '../primitives/place-name';
import { strings } from '../strings';

interface Props {
  page: DeliveryPage;
  collection: string;
  surveyAgain(form: FormData): Promise<void>;
  setLeftOut(place: number, at: string, leftOut: boolean): void;
}

/** One document: why it is left out, or each of its changes as it was and as it will be, and what stays as it is. */
export function PageChanges({ page, collection, surveyAgain, setLeftOut }: Props) {
  const s = strings.delivery;
  return (
    <section className="mt-7">
      <h2 className="rule-below flex flex-wrap items-baseline justify-between gap-x-4 text-[16px] font-bold">
        <span className="break-words">{ownTitle(page.title) || page.path}</span>
        <span className="font-code text-[13px] font-normal break-all text-ink-2">
          {page.path}
          {page.isNew && ` (${s.newPage})`}
        </span>
      </h2>
      {page.leftOut !== null && (
        <div className="flex flex-wrap items-baseline gap-x-3 py-3">
          <p>
            <b className="text-look">{s.leftOut}</b> {strings.message(page.leftOut)}
          </p>
          <form action={surveyAgain}>
            <input type="hidden" name="collection" value={collection} />
            <button type="submit" className="link">
              {s.surveyAgain}
            </button>
          </form>
        </div>
      )}
      {page.warnings.map((w) => (
        <p key={w.id} className="py-2">
          <b className="text-look">{s.know}</b> {strings.message(w)}
        </p>
      ))}
      <ul>
        {page.changes.map((change) => (
          <li key={`${change.appearanceId} ${change.order} ${change.part}`} className="border-b border-hair py-3">
            <ChangeView
              change={change}
              collection={collection}
              leaveOut={() => setLeftOut(change.appearanceId, placeName(change), true)}
            />
          </li>
        ))}
        {page.leftOut === null &&
          page.aside.map((a) => (
            <li key={a.appearanceId} className="border-b border-hair py-3 text-[14px]">
              <b className="text-look">{s.aside(placeName(a))}</b>{' '}
              {a.text === null ? (
                s.otherTexts
              ) : a.text === '' ? (
                strings.decorativeHere
              ) : (
                <Heard text={a.text} lang={null} />
              )}{' '}
              <button type="button" className="link" onClick={() => setLeftOut(a.appearanceId, placeName(a), false)}>
                {s.putBack}
                <span className="sr-only">: {placeName(a)}</span>
              </button>
            </li>
          ))}
        {page.conflicts.map((c) => (
          <li key={c.appearanceId} className="border-b border-hair py-3 text-[14px]">
            <b className="text-look">{s.conflictAt(placeName(c))}</b>{' '}
            <Link href={`/c/${collection}/desk/${c.pictureId}?place=${c.appearanceId}`}>{s.chooseThere}</Link>
          </li>
        ))}
        {page.refusals.map((r) => (
          <li key={`${r.appearanceId} ${r.order} ${r.part}`} className="border-b border-hair py-3 text-[14px]">
            <b className="text-look">{s.refused}</b> {strings.sentence(placeName(r))}: {strings.message(r.reason)}{' '}
            <Link href={`/c/${collection}/desk/${r.pictureId}?place=${r.appearanceId}`}>
              {strings.galley.fixes.desk}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface ChangeProps {
  change: DeliveryChange;
  collection: string;
  leaveOut(): void;
}

function ChangeView({ change, collection, leaveOut }: ChangeProps) {
  const s = strings.delivery;
  return (
    <div className="grid gap-x-5 gap-y-1 md:grid-cols-[84px_minmax(0,1fr)]">
      <Link href={`/c/${collection}/desk/${change.pictureId}?place=${change.appearanceId}`} className="text-[13px]">
        {placeName(change)}
      </Link>
      <div className="grid gap-1">
        <ChangeBody change={change} />
        <p className="text-[13.5px] text-ink-2">
          <WhatChanges change={change} />{' '}
          {change.writtenBy?.draft && `${s.writtenBy(strings.writtenBy(change.writtenBy.by, change.writtenBy.draft))} `}
          <button type="button" className="link" onClick={leaveOut}>
            {s.leaveOut}
            <span className="sr-only">: {placeName(change)}</span>
          </button>
        </p>
      </div>
    </div>
  );
}

function ChangeBody({ change }: { change: DeliveryChange }) {
  if (change.words) return <WordsView change={change} words={change.words} />;
  if (change.reads === null) return <MarkupView change={change} />;
  return (
    <>
      {/* Rendered by our own writer, which lets no HTML through. */}
      <div className="long-text" dangerouslySetInnerHTML={{ __html: longDescriptionHtml(change.reads, HEADINGS) }} />
      <FoldedMarkup change={change} />
    </>
  );
}

/** The level of headings within a change. */
const HEADINGS = 3;

function FoldedMarkup({ change }: { change: DeliveryChange }) {
  return (
    <details>
      <summary className="text-[13.5px]">{strings.delivery.markup}</summary>
      <div className="mt-1 grid gap-1">
        <MarkupView change={change} />
      </div>
    </details>
  );
}

/** Characters of a data URI that are shown. */
const DATA_SHOWN = 40;
const DATA_URI = new RegExp(`(data:[^"'\\s)>]{${DATA_SHOWN}})[^"'\\s)>]+`, 'gi');

/** Source as people read it: a file that stands in an attribute is shortened. */
const shortened = (source: string): string => source.replace(DATA_URI, '$1…');

/** The words of a document before and after; the markup that carries them on request. */
function WordsView({ change, words }: { change: DeliveryChange; words: NonNullable<DeliveryChange['words']> }) {
  const s = strings.delivery;
  return (
    <>
      <p>
        <span className="sr-only">{s.before}: </span>
        {words.before === '' ? (
          <span className="text-ink-2">{s.noWords}</span>
        ) : (
          <Heard text={words.before} lang={null} />
        )}
      </p>
      {change.file !== undefined && change.where && (
        <p className="font-code text-[13px] break-words text-ink-2">{s.inPart(change.file, change.where.place)}</p>
      )}
      <FoldedMarkup change={change} />
    </>
  );
}

function MarkupView({ change }: { change: DeliveryChange }) {
  const s = strings.delivery;
  const parts = diffWordsWithSpace(shortened(change.before), shortened(change.after));
  return (
    <>
      {change.before !== '' && (
        <p className="source-line">
          <span className="sr-only">{s.before}: </span>
          {parts
            .filter((p) => !p.added)
            .map((p, i) => (p.removed ? <del key={i}>{p.value}</del> : <span key={i}>{p.value}</span>))}
        </p>
      )}
      <p className="source-line">
        <span className="sr-only">{s.after}: </span>
        {parts
          .filter((p) => !p.removed)
          .map((p, i) => (p.added ? <ins key={i}>{p.value}</ins> : <span key={i}>{p.value}</span>))}
      </p>
    </>
  );
}

/** What of a picture a change is to: what will be heard of it, or the name of the text. */
function WhatChanges({ change }: { change: DeliveryChange }) {
  const s = strings.delivery;
  if (change.heard !== null)
    return change.heard === '' ? (
      s.willBeSilent
    ) : (
      <>
        {s.heard} <Heard text={change.heard} lang={null} />
      </>
    );
  // Of a long description, the tag of its picture is shown as well.
  const stands = (text: string) =>
    change.part === 'long-description' ? text.includes('class="long-description"') : text !== '';
  const done = !stands(change.before) ? s.added : !stands(change.after) ? s.takenAway : s.changed;
  return `${s.parts[change.part]}: ${done}`;
}
