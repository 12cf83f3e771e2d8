import { useState, type Ref } from 'react';
import type { DraftFault, DraftItem, DraftPage } from '@/contract/drafting';
import { gapsIn, hasGaps } from '@/core/draft/draft';
import { lengthOf } from '@/core/words/graphemes';
import { Measure } from '../desk/measure';
import { useActs } from '../frame/acts';
import { keepText } from '../frame/keep';
import { KeyButton } from '../keys/key-cap';
import { Heard, type HeardSpan } from '../primitives/heard';
import { Mark } from '../primitives/mark';
import { Note } from '../primitives/note';
import { whileBusy } from '../primitives/while-busy';
import { draftEvidence } from '../strings/draft-evidence';
import { strings } from '../strings';

/** What can be done with the draft that is shown. */
export interface ReadingActs {
  accept(): void;
  edit(text: string | null): void;
  save(text: string): void;
  reject(): void;
  again(): void;
  decorative(): void;
  /** Accepts another text that was drafted. */
  use(text: string): void;
  /** Opens the drafts of look-alikes. */
  together(): void;
  /** Another text of the picture was saved. */
  used(what: string, act: string): void;
}

interface Props {
  ref: Ref<HTMLElement>;
  draft: DraftPage;
  collection: string;
  /** The text as it is edited; null while it is read. */
  editing: string | null;
  isAsking: boolean;
  alike: readonly DraftItem[];
  acts: ReadingActs;
}

/** The words before, the draft with what was found in it, where it comes from, and what can be done with it. */
export function DraftSheet({ ref, draft, collection, editing, isAsking, alike, acts }: Props) {
  const s = strings.reading;
  const { record, text, lang, limit } = draft;
  const { origin, faults, uncertain, doubtful, alternatives, evidence } = record;
  const name = strings.pictureName(draft.picture.name);
  const spans = spansOf(text, faults, uncertain);
  const gaps = gapsIn(text);
  return (
    <section ref={ref} tabIndex={-1} data-reading aria-label={s.draft} className="px-4 py-5 outline-none sm:px-8">
      <p className="text-[13.5px] text-ink-2">{s.before}</p>
      <p className="mb-3 text-[17px] text-ink-2">
        {draft.state === 'missing' ? (
          strings.nothingSaid
        ) : draft.state === 'decorative' ? (
          strings.decorativeHere
        ) : (
          <Heard text={draft.heard} lang={lang} />
        )}{' '}
        <span className="text-[13.5px]">{s.here(name, draft.page.title)}</span>
      </p>
      <p className="flex items-center gap-1.5 text-[13.5px] text-ink-2">
        <Mark state="draft" />
        {origin.service === null
          ? s.byOwn
          : origin.model === null
            ? s.byTable(origin.service)
            : s.by(origin.service, strings.rounds.money(origin.cost, origin.currency), origin.prompt ?? '')}
      </p>
      {editing !== null ? (
        <Editor text={editing} gaps={gapsIn(editing).map((g) => g.question)} lang={lang} limit={limit} acts={acts} />
      ) : (
        <>
          <p className="mt-1 text-[26px] leading-[1.35]">
            {text === '' ? (
              <b className="text-[20px]">{s.decorative}</b>
            ) : (
              <Heard text={text} lang={lang} spans={spans} />
            )}
          </p>
          {text !== '' && <Measure length={lengthOf(text)} limit={limit} />}
          <div className="mt-3 grid gap-1.5 pl-[18px] empty:hidden">
            {gaps.length > 0 && <Note outcome="failed" message={{ id: 'plain', values: { text: s.gaps } }} />}
            {faults.map((f) => (
              <Note key={f.rule} outcome={f.outcome} message={f.message} />
            ))}
            {uncertain.map((part) => (
              <Note key={part} outcome="cantTell" message={{ id: 'plain', values: { text: s.unsure(part) } }} />
            ))}
            {doubtful && <Note outcome="cantTell" message={{ id: 'plain', values: { text: s.doubtful } }} />}
          </div>
          {record.missing && text !== '' && gaps.length === 0 && (
            <p className="mt-2 text-[14px] text-look">{strings.message(record.missing)}</p>
          )}
          <div className="mt-4 flex flex-wrap gap-2.5">
            <KeyButton command="reading.accept" className="button" {...whileBusy(isAsking)} onClick={acts.accept}>
              {s.accept}
            </KeyButton>
            <KeyButton
              command="reading.edit"
              className="button quiet"
              {...whileBusy(isAsking)}
              onClick={() => acts.edit(text)}
            >
              {s.edit}
            </KeyButton>
            <KeyButton command="reading.reject" className="button quiet" {...whileBusy(isAsking)} onClick={acts.reject}>
              {s.reject}
            </KeyButton>
            <KeyButton command="reading.again" className="button quiet" {...whileBusy(isAsking)} onClick={acts.again}>
              {s.again}
            </KeyButton>
            {text !== '' && (
              <KeyButton
                command="text.decorative"
                className="button quiet"
                {...whileBusy(isAsking)}
                onClick={acts.decorative}
              >
                {strings.keys.commands['text.decorative'].replace(/^./, (c) => c.toUpperCase())}
              </KeyButton>
            )}
          </div>
          <p role="status" className="mt-2 text-[14px] text-ink-2 empty:hidden">
            {isAsking ? s.asking : ''}
          </p>
        </>
      )}
      <div className="mt-4 grid gap-2 text-[14px] text-ink-2">
        {draft.places.length > 1 && <p>{s.more(draft.places.length - 1)}</p>}
        {evidence.length > 0 && <p>{draftEvidence(evidence)}</p>}
        {alternatives.length > 0 && (
          <p>
            {s.alternatives}:{' '}
            {alternatives.map((other) => (
              <span key={other} className="mr-3">
                <Heard text={other} lang={lang} />{' '}
                {!hasGaps(other) && (
                  <button type="button" className="link" aria-label={s.use(other)} onClick={() => acts.use(other)}>
                    {s.useShort}
                  </button>
                )}
              </span>
            ))}
          </p>
        )}
        <Others draft={draft} collection={collection} used={acts.used} />
        {alike.length > 0 && (
          <p>
            {s.alike(alike.length)}{' '}
            <button type="button" className="link" onClick={acts.together}>
              {s.alikeOpen}
            </button>
          </p>
        )}
      </div>
    </section>
  );
}

/** What is marked in a text: what rules found, and what its drafter was not sure of. */
function spansOf(text: string, faults: readonly DraftFault[], uncertain: readonly string[]): HeardSpan[] {
  return [
    ...faults.flatMap((f) => (f.span ? [{ ...f.span, outcome: f.outcome }] : [])),
    ...uncertain.flatMap((part) => {
      const start = text.indexOf(part);
      return start < 0 ? [] : [{ start, end: start + part.length, outcome: 'cantTell' as const }];
    }),
    ...gapsIn(text).map(({ start, end }) => ({ start, end, outcome: 'failed' as const })),
  ];
}

interface EditorProps {
  text: string;
  gaps: readonly string[];
  lang: string | null;
  limit: number;
  acts: Pick<ReadingActs, 'edit' | 'save'>;
}

/** The draft as it is edited; its first gap is selected, so that writing fills it. */
function Editor({ text, gaps, lang, limit, acts }: EditorProps) {
  const s = strings.reading;
  const begin = (field: HTMLTextAreaElement | null) => {
    if (!field || field.dataset['begun']) return;
    field.dataset['begun'] = 'yes';
    field.focus();
    const [gap] = gapsIn(field.value);
    field.setSelectionRange(gap?.start ?? field.value.length, gap?.end ?? field.value.length);
  };
  return (
    <div className="mt-1">
      <textarea
        ref={begin}
        aria-label={s.text}
        aria-describedby="gaps"
        value={text}
        lang={lang ?? undefined}
        dir="auto"
        spellCheck
        rows={3}
        onChange={(e) => acts.edit(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') acts.edit(null);
          if (e.key !== 'Enter' || e.shiftKey) return;
          e.preventDefault();
          acts.save(text);
        }}
        className="block w-full resize-y border border-hair-2 bg-sheet p-2.5 font-heard text-[23px] leading-[1.4]"
      />
      <Measure length={lengthOf(text)} limit={limit} />
      <p id="gaps" role="status" className="text-[14px] text-fails empty:hidden">
        {gaps.length > 0 ? s.gaps : ''}
      </p>
      <p className="mt-3 flex flex-wrap gap-2.5">
        <button
          type="button"
          className="button"
          disabled={gaps.length > 0 || text.trim() === ''}
          onClick={() => acts.save(text)}
        >
          {s.save} <kbd aria-hidden="true">{strings.keys.caps.Enter}</kbd>
        </button>
        <button type="button" className="button quiet" onClick={() => acts.edit(null)}>
          {s.cancel} <kbd aria-hidden="true">Esc</kbd>
        </button>
      </p>
    </div>
  );
}

const FIELDS = {
  title: 'title',
  caption: 'caption',
  longDescription: 'long-description',
  fileName: 'file-name',
} as const;

/** Texts besides the alt text that were drafted too, each taken by itself. */
function Others({ draft, collection, used }: { draft: DraftPage; collection: string; used: ReadingActs['used'] }) {
  const s = strings.reading;
  const { did } = useActs();
  const [taken, setTaken] = useState<readonly string[]>([]);
  const texts = Object.entries(draft.record.other) as [keyof typeof FIELDS, string][];
  const left = texts.filter(([field]) => !taken.includes(field));
  if (left.length === 0) return null;
  const take = async (field: keyof typeof FIELDS, text: string) => {
    const act = crypto.randomUUID();
    const what = strings.rounds.order.wanteds[field];
    try {
      await keepText({ collection, field: FIELDS[field], picture: draft.picture.id, places: draft.places, text, act });
      setTaken([...taken, field]);
      used(what, act);
    } catch (error) {
      did(strings.reading.refused(strings.sentence(what), error instanceof Error ? error.message : strings.failed));
    }
  };
  return (
    <div>
      <p>{s.others}:</p>
      {left.map(([field, text]) => (
        <p key={field} className="mt-1">
          <b className="text-ink">{strings.sentence(strings.rounds.order.wanteds[field])}</b>{' '}
          <span className="line-clamp-4 whitespace-pre-wrap">{text}</span>{' '}
          <button type="button" className="link" onClick={() => void take(field, text)}>
            {s.useAs(strings.rounds.order.wanteds[field])}
          </button>
        </p>
      ))}
    </div>
  );
}
