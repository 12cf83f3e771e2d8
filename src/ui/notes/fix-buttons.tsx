import type { Mend } from '@/core/rules/support/rule';
import { strings } from '../strings/en';

/** Longer words would push the other mends out of the margin. */
const SHOWN = 60;

/** The changes that a finding offers, each as a verb. */
export function MendActs({ mends, apply }: { mends: readonly Mend[]; apply(mend: Mend): void }) {
  return mends.map((mend) => (
    <button key={JSON.stringify(mend)} type="button" className="link text-left" onClick={() => apply(mend)}>
      {label(mend)}
    </button>
  ));
}

function label(mend: Mend): string {
  const s = strings.notes;
  switch (mend.kind) {
    case 'make silent':
      return s.silent;
    case 'accept word':
      return s.accept(mend.word);
    case 'use words':
      if (mend.part) return s.write(mend.part);
      return s.use(mend.text.length > SHOWN ? `${mend.text.slice(0, SHOWN - 1)}…` : mend.text);
  }
}
