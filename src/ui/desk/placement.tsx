import { startTransition, useId, useOptimistic } from 'react';
import { STANDS, TIES, type Placement, type Tie } from '@/core/model/texts';
import { strings } from '../strings';

interface Props {
  placement: Placement;
  /** Places of the picture that get it. */
  places: number;
  place(placement: Placement): Promise<void>;
}

/** Where a long description will stand, and how the picture is tied to it. */
export function PlacementChoice({ placement, places, place }: Props) {
  const s = strings.desk.placement;
  const id = useId();
  const [{ stand, tie }, setPlacement] = useOptimistic(placement);
  const choose = (next: Placement) =>
    startTransition(async () => {
      setPlacement(next);
      await place(next);
    });
  return (
    <fieldset className="mt-3 text-[14px]">
      <legend className="font-bold">{s.legend(places)}</legend>
      <div className="mt-1 grid gap-1">
        {STANDS.map((one) => (
          <label key={one} className="flex min-h-6 items-baseline gap-2">
            <input type="radio" name={id} checked={stand === one} onChange={() => choose({ stand: one, tie })} />
            <span>
              {s.stands[one]} <span className="text-ink-2">{s.about[one]}</span>
            </span>
          </label>
        ))}
      </div>
      {stand !== 'below' ? (
        <p className="mt-1.5 text-[13.5px] text-ink-2">{s.tied[stand]}</p>
      ) : (
        <label className="mt-1.5 flex flex-wrap items-baseline gap-x-2">
          <span className="text-ink-2">{s.tiedBy}</span>
          <select
            className="pick"
            value={tie}
            onChange={(e) => choose({ stand, tie: e.target.value as Tie })}
            aria-describedby={`${id}-tie`}
          >
            {TIES.map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
          </select>
          <span id={`${id}-tie`} className="text-[13.5px] text-ink-2">
            {s.ties[tie]}
          </span>
        </label>
      )}
    </fieldset>
  );
}
