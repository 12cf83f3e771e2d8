import type { Fix } from '@/core/model/finding';
import { strings } from '../strings';

/** Longer words would push the other fixes out of the margin. */
const SHOWN = 60;

/** The changes that a finding offers, each as a verb. */
export function FixButtons({ fixes, apply }: { fixes: readonly Fix[]; apply(fix: Fix): void }) {
  return fixes.map((fix) => (
    <button key={JSON.stringify(fix)} type="button" className="link text-left" onClick={() => apply(fix)}>
      {label(fix)}
    </button>
  ));
}

function label(fix: Fix): string {
  const s = strings.notes;
  switch (fix.kind) {
    case 'mark decorative':
      return s.decorative;
    case 'accept word':
      return s.accept(fix.word);
    case 'use words':
      if (fix.part) return s.write(fix.part);
      return s.use(fix.text.length > SHOWN ? `${fix.text.slice(0, SHOWN - 1)}…` : fix.text);
  }
}
