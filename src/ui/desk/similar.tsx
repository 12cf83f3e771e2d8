import Link from 'next/link';
import type { DeskPicture } from '@/contract/desk';
import { BEST_OF_SERIES } from '@/core/purpose/order';
import { Heard } from '../primitives/heard';
import { strings } from '../strings';

interface Props {
  alike: NonNullable<DeskPicture['similar']>;
  collection: string;
  href(picture: number): string;
  start(text: string): void;
}

/** The look-alikes with what each says and in what it differs, to begin from the words of one that is worded well. */
export function Alike({ alike: { similarGroup, total, members }, collection, href, start }: Props) {
  const s = strings.desk.alike;
  return (
    <section aria-labelledby="alike" className="border-t border-hair px-4 py-3.5 text-[14px] sm:px-6">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="alike" className="text-[13px] font-bold">
          {s.title(total)}
        </h2>
        <Link href={`/c/${collection}/galley?similarGroup=${similarGroup}`} prefetch={false} className="text-[13px]">
          {s.all}
        </Link>
      </div>
      {total > BEST_OF_SERIES && <p className="mb-2 text-[13px] text-ink-2">{s.best(BEST_OF_SERIES)}</p>}
      <ul className="grid gap-x-6 gap-y-3">
        {members.map((m) => (
          <li key={m.id} className="grid grid-cols-[64px_minmax(0,1fr)] gap-x-3">
            <Link href={href(m.id)} prefetch={false} className="flex h-[48px] items-start">
              {m.thumb ? (
                <img
                  src={m.thumb}
                  alt={strings.pictureName(m.name)}
                  loading="lazy"
                  className="plate max-h-full max-w-full"
                />
              ) : (
                <span className="break-all">{strings.pictureName(m.name)}</span>
              )}
            </Link>
            <div className="min-w-0">
              <p className="text-[15.5px]">
                {m.heard ? (
                  <Heard text={m.heard} lang={m.lang} />
                ) : (
                  <span className="font-heard text-ink-2 italic">
                    {m.state === 'decorative' ? strings.desk.decorativeThere : strings.desk.nothingYet}
                  </span>
                )}
              </p>
              <p className="text-[13px] text-ink-2">
                {m.same
                  ? s.same
                  : m.differs.length > 0
                    ? s.differs(m.differs.map(strings.message).join(', '))
                    : s.hardly}
              </p>
              {m.heard && (
                <button type="button" className="link text-[13px]" onClick={() => start(m.heard)}>
                  {s.start}
                  <span className="sr-only"> “{m.heard}”</span>
                </button>
              )}
            </div>
          </li>
        ))}
      </ul>
      {total - 1 > members.length && (
        <p className="mt-2 text-[13px] text-ink-2">{s.more(total - 1 - members.length)}</p>
      )}
    </section>
  );
}
