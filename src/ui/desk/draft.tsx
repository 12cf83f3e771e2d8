import type { DeskPlace } from '@/contract/desk';
import type { Draft } from '@/core/draft/draft';
import { Heard } from '../primitives/heard';
import { Mark } from '../primitives/mark';
import { strings } from '../strings';

interface Props {
  place: DeskPlace;
  draft: Draft | null;
  lang: string | null;
  accept(): void;
}

/** What a machine can say from what is known around the picture, with the evidence for it. */
export function DraftView({ place, draft, lang, accept }: Props) {
  const s = strings.desk;
  const text = place.waitingDraft ?? draft?.text ?? null;
  return (
    <section aria-labelledby="draft">
      <h2 id="draft" className="mb-2 flex items-center gap-1.5 text-[13px] font-bold">
        <Mark state="draft" />
        {s.draft}
      </h2>
      {text === null ? (
        <p className="text-ink-2">{s.noDraft}</p>
      ) : (
        <p className="text-[16px]">
          <Heard text={text} lang={lang} />
        </p>
      )}
      {draft?.missing && <p className="mt-1 text-[13px] text-look">{strings.message(draft.missing)}</p>}
      {draft && draft.evidence.length > 0 && (
        <p className="mt-1 text-[13px] break-words text-ink-2">
          {s.from}:{' '}
          {draft.evidence
            .map((e) => `${s.evidence[e.from]} “${typeof e.text === 'string' ? e.text : strings.message(e.text)}”`)
            .join(' · ')}
        </p>
      )}
      {text !== null && (
        <button type="button" className="link mt-2" onClick={accept}>
          {s.accept}
        </button>
      )}
    </section>
  );
}
