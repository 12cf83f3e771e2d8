import type { DraftingFigures } from '@/contract/drafting';
import { strings } from '../strings';

/** the results of drafts, by drafter, model and prompt: how often one is right tells whether it is worth its price. */
export function Figures({ figures }: { figures: readonly DraftingFigures[] }) {
  const s = strings.rounds.figures;
  const decided = figures.filter((f) => f.accepted + f.edited + f.rejected > 0);
  const reasons = strings.rounds.reasons as Readonly<Record<string, string>>;
  return (
    <section className="mt-8" aria-labelledby="figures">
      <h2 id="figures" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      {decided.length === 0 ? (
        <p className="mt-2 text-ink-2">{s.none}</p>
      ) : (
        <div className="overflow-x-auto" tabIndex={0} role="group" aria-labelledby="figures">
          <table className="mt-2 w-full text-left text-[14.5px]">
            <thead className="text-[13px] text-ink-2">
              <tr>
                {[s.drafter, s.prompt, s.accepted, s.edited, s.rejected, s.waiting].map((head) => (
                  <th key={head} scope="col" className="py-1.5 pr-6 font-normal">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {decided.map((f) => (
                <tr key={`${f.drafter} ${f.model} ${f.prompt}`} className="border-t border-hair align-top">
                  <th scope="row" className="py-1.5 pr-6 font-semibold">
                    {f.drafter ?? strings.rounds.own}
                    {f.model && <span className="block text-[13px] font-normal text-ink-2">{f.model}</span>}
                  </th>
                  <td className="py-1.5 pr-6">{f.prompt ?? '–'}</td>
                  <td className="py-1.5 pr-6">{strings.n(f.accepted)}</td>
                  <td className="py-1.5 pr-6">
                    {strings.n(f.edited)}
                    {f.changed !== null && <span className="block text-[13px] text-ink-2">{s.changed(f.changed)}</span>}
                  </td>
                  <td className="py-1.5 pr-6">
                    {strings.n(f.rejected)}
                    {f.reasons.map(({ reason, drafts }) => (
                      <span key={reason} className="block text-[13px] text-ink-2">
                        {strings.n(drafts)} {reason === null ? s.noReason : (reasons[reason] ?? reason)}
                      </span>
                    ))}
                  </td>
                  <td className="py-1.5 pr-6">{strings.n(f.waiting)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
