import type { ReactNode } from 'react';
import type { DeskPlace } from '@/contract/desk';
import type { Draft } from '@/core/draft/draft';
import { KeyButton } from '../keys/key-cap';
import { Heard } from '../primitives/heard';
import { Mark } from '../primitives/mark';
import { draftEvidence } from '../strings/draft-evidence';
import { strings } from '../strings';

interface Props {
  place: DeskPlace;
  draft: Draft | null;
  lang: string | null;
  accept(): void;
  /** The field says what the draft says. */
  isTaken: boolean;
  /** What else can be done about drafts. */
  children?: ReactNode;
}

/** What a machine can say from what is known around the picture, with the evidence for it. */
export function DraftView({ place, draft, lang, accept, isTaken, children }: Props) {
  const s = strings.desk;
  const text = place.waitingDraft ?? (draft?.decorative ? '' : (draft?.text ?? null));
  const evidence = draftEvidence(draft?.evidence ?? []);
  return (
    <section
      aria-labelledby="draft"
      className="grid grid-cols-[30px_minmax(0,1fr)_auto] gap-x-2 border-t border-hair px-4 py-3 sm:px-7"
    >
      <span className="pt-1">
        <Mark state="draft" />
      </span>
      <div className="min-w-0">
        <h2 id="draft" className="sr-only">
          {s.draft}
        </h2>
        {text === null && <p className="text-[14px] text-ink-2">{s.noDraft}</p>}
        {text !== null && (
          <p className="text-[18px] leading-[1.4]">
            {text === '' ? strings.reading.decorative : <Heard text={text} lang={lang} />}
          </p>
        )}
        {draft?.missing && <p className="mt-0.5 text-[13px] text-look">{strings.message(draft.missing)}</p>}
        {evidence !== '' && (
          <p className="mt-0.5 line-clamp-2 text-[13px] break-words text-ink-2" title={evidence}>
            {evidence}
          </p>
        )}
      </div>
      <span className="grid justify-items-end gap-1 self-start">
        {text !== null && !isTaken && !(text === '' && place.state === 'decorative') && (
          <KeyButton command="text.accept-draft" className="link text-[14px]" onClick={accept}>
            {s.accept}
          </KeyButton>
        )}
        {children}
      </span>
    </section>
  );
}
