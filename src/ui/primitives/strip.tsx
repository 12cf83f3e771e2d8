import { strings } from '../strings/en';

export interface StripCounts {
  said: number;
  silent: number;
  unsaid: number;
  doubtful: number;
}

/** Four fillings that tell the state of a set: ink, dots, hatching, upright lines. */
export function Strip({ said, silent, unsaid, doubtful }: StripCounts) {
  const parts = [
    ['ink', said],
    ['dots', silent],
    ['hatching', unsaid],
    ['uprights', doubtful],
  ] as const;
  const all = said + silent + unsaid + doubtful;
  return (
    <div
      role="img"
      aria-label={strings.shelf.strip(said, silent, unsaid, doubtful)}
      className="flex h-3.5 border border-ink"
    >
      {all > 0 &&
        parts
          .filter(([, count]) => count > 0)
          .map(([filling, count]) => (
            <span
              key={filling}
              className={`filling-${filling} block border-r border-ink last:border-r-0`}
              style={{ flexGrow: count, minWidth: 5 }}
            />
          ))}
    </div>
  );
}
