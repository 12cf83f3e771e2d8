import Link from 'next/link';
import type { Rename } from '@/contract/delivery';
import { strings } from '../strings';

/** Files to rename, and the lists to export for that. */
export function Renames({ collection, renames }: { collection: string; renames: readonly Rename[] }) {
  const s = strings.delivery;
  const file = (name: string) => `/api/collections/${collection}/delivery/${name}`;
  if (renames.length === 0) return null;
  return (
    <section className="mt-8" aria-labelledby="renames">
      <h2 id="renames" className="rule-below text-[16px] font-bold">
        {s.renames(s.files(renames.length))}
      </h2>
      <p className="mt-2 max-w-[72ch] text-[14px] text-ink-2">{s.renamesAbout}</p>
      <div className="mt-3 flex flex-wrap gap-3">
        {(
          [
            ['renames.csv', s.renameList],
            ['redirects-apache.conf', s.redirects.apache],
            ['redirects-nginx.conf', s.redirects.nginx],
          ] as const
        ).map(([name, label]) => (
          <form key={name} method="post" action={file(name)}>
            <button type="submit" className="button quiet">
              {label}
            </button>
          </form>
        ))}
      </div>
      <ul className="mt-3">
        {renames.map((r) => (
          <li key={r.pictureId} className="border-b border-hair py-3 text-[14px]">
            <p className="source-line">
              <span className="sr-only">{s.rename} </span>
              <del>{r.from}</del> <span className="sr-only">{s.renameTo} </span>
              <ins>{r.to}</ins>
            </p>
            <p className="text-[13.5px] text-ink-2">
              {strings.places(r.uses)} ·{' '}
              <Link href={`/c/${collection}/desk/${r.pictureId}`}>{strings.galley.fixes.desk}</Link>
              {r.isTaken && <span className="text-look"> {s.renameTaken}</span>}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
