import { strings } from '../strings';

export interface StripCounts {
  described: number;
  decorative: number;
  missing: number;
  doubtful: number;
}

/** Four fillings that tell the state of a set: ink, dots, hatching, upright lines. */
export function Strip({ described, decorative, missing, doubtful }: StripCounts) {
  const parts = [
    ['ink', described],
    ['dots', decorative],
    ['hatching', missing],
    ['uprights', doubtful],
  ] as const;
  const all = described + decorative + missing + doubtful;
  return (
    <div
      role="img"
      aria-label={strings.shelf.strip(described, decorative, missing, doubtful)}
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
