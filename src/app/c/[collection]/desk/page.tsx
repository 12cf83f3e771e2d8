import Link from 'next/link';
import { redirect } from 'next/navigation';
import { GalleyView } from '@/contract/galley';
import { firstOf } from '@/server/catalogue/views';
import { asQuery } from '@/ui/galley/address';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.desk.title };

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

/** The Desk begins with what comes first in the view that its address says, else in the order of work. */
export default async function DeskStart({ params, searchParams }: Props) {
  const { collection } = await params;
  const view = GalleyView.parse({ state: 'todo', sort: 'first', ...(await searchParams) });
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
