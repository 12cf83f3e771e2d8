import type { AppliedFix, Fix } from '@/core/model/finding';
import { Copy } from '../primitives/copy';
import { strings } from '../strings';

/** Longer words would push the other fixes out of the margin. */
const SHOWN = 60;

/** The changes that a finding offers, each as a verb. */
export function FixButtons({ fixes, apply }: { fixes: readonly Fix[]; apply(fix: AppliedFix): void }) {
  return fixes.map((fix) =>
    fix.kind === 'copy' ? (
      <Copy key={fix.what} text={fix.text} label={label(fix)} done={strings.notes.copied(fix.what)} />
    ) : (
      <button key={JSON.stringify(fix)} type="button" className="link text-left" onClick={() => apply(fix)}>
        {label(fix)}
      </button>
    ),
  );
}

function label(fix: Fix): string {
  const s = strings.notes;
  switch (fix.kind) {
    case 'mark decorative':
      return s.decorative;
    case 'accept word':
      return s.accept(fix.word);
    case 'copy':
      return s.copy(fix.what);
    case 'use words':
      if (fix.part) return s.write(fix.part);
      return s.use(fix.text.length > SHOWN ? `${fix.text.slice(0, SHOWN - 1)}…` : fix.text);
  }
}
