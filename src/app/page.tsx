import Link from 'next/link';
import { shelf } from '@/server/collections/collections';
import { config } from '@/server/config';
import { AddForm } from '@/ui/shelf/add-form';
import { strings } from '@/ui/strings/en';
import { surveyAgain, surveyFolder, surveySite } from './actions';

export const dynamic = 'force-dynamic';

export default async function ShelfPage() {
  const s = strings.shelf;
  const lines = await shelf();
  return (
    <main className="mx-auto grid max-w-[1080px] gap-6 px-7 py-6">
      <h1 className="font-heard text-[26px] font-semibold italic">{strings.product}</h1>
      <section className="grid gap-4 border border-hair-2 bg-sheet p-5" aria-label={s.surveyIt}>
        <AddForm label={s.site} placeholder="https://" button={s.surveyIt} action={surveySite} />
        {config().localFolders && (
          <AddForm label={s.folder} placeholder="/" button={s.surveyIt} action={surveyFolder} />
        )}
      </section>
      <section aria-labelledby="on-the-shelf">
        <h2 id="on-the-shelf" className="border-b-2 border-ink pb-1.5 text-[20px] font-bold">
          {s.heading}
        </h2>
        {lines.length === 0 && <p className="py-5 text-ink-2">{s.empty}</p>}
        <ul>
          {lines.map((c) => (
            <li key={c.id} className="flex flex-wrap items-center justify-between gap-4 border-b border-hair py-4">
              <div>
                <Link href={`/c/${c.id}`} className="text-[20px] font-semibold">
                  {c.name}
                </Link>
                <p className="text-[14px] text-ink-2">
                  {c.pages} pages, {c.pictures} pictures: {c.said} said, {c.silent} silent, {c.unsaid} unsaid,{' '}
                  {c.doubtful} to look at
                </p>
              </div>
              <form action={surveyAgain}>
                <input type="hidden" name="collection" value={c.id} />
                <button type="submit" className="link">
                  {s.again}
                </button>
              </form>
            </li>
          ))}
        </ul>
      </section>
    </main>
  );
}
