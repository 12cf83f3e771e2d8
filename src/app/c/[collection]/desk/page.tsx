import Link from 'next/link';
import { redirect } from 'next/navigation';
import { GalleyView } from '@/contract/galley';
import { firstOf } from '@/server/catalogue/views';
import { asQuery } from '@/ui/galley/address';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.desk.title };

/** The Desk begins with what comes first in the order of work. */
export default async function DeskStart({ params }: { params: Promise<{ collection: string }> }) {
  const { collection } = await params;
  const view = GalleyView.parse({ state: 'todo', sort: 'first' });
  const first = await firstOf(collection, view);
  if (first !== null) redirect(`/c/${collection}/desk/${first}?${asQuery(view)}`);
  const s = strings.desk;
  return (
    <div className="sheet">
      <h1 className="text-[25px]">{s.empty}</h1>
      <p className="mt-2 max-w-[60ch] text-ink-2">{s.emptyAbout}</p>
      <Link href={`/c/${collection}/galley`} className="button mt-5 inline-block no-underline">
        {s.toGalley}
      </Link>
    </div>
  );
}
