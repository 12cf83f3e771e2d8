import { KeyButton } from '../keys/key-cap';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';
import type { BulkKind } from './bulk-dialog';

interface Props {
  selected: number;
  total: number;
  /** How far an act on many places is, from 0 to 1; null while nothing is done. */
  share: number | null;
  ask(kind: BulkKind): void;
  /** Asks how a round over the selection is to go. */
  draft(): void;
  all(): void;
  none(): void;
}

const KINDS: readonly BulkKind[] = ['decorative', 'words', 'purpose', 'ignore', 'accept', 'reject'];

/** How many lines are selected, and what can be done with them. */
export function SelectionBar({ selected, total, share, ask, draft, all, none }: Props) {
  const s = strings.galley;
  return (
    <section aria-label={s.selection} className="bar sticky top-0 z-10 bg-paper">
      <b className="text-ink">{s.selected(selected)}</b>
      {selected < total && (
        <KeyButton command="galley.select-all" className="link" onClick={all}>
          {s.selectAll(total)}
        </KeyButton>
      )}
      {KINDS.map((kind) => (
        <button key={kind} type="button" className="link" {...whileBusy(share !== null)} onClick={() => ask(kind)}>
          {strings.bulk.title[kind]} …
        </button>
      ))}
      <button type="button" className="link" onClick={draft}>
        {strings.rounds.draft}
      </button>
      <button type="button" className="link" onClick={none}>
        {s.unpick}
      </button>
      {share !== null && (
        <span role="status">
          <progress value={share} aria-label={strings.bulk.progress} className="align-middle" />{' '}
          {strings.bulk.working(share)}
        </span>
      )}
    </section>
  );
}
