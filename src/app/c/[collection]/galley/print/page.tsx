import { notFound } from 'next/navigation';
import { GalleyView } from '@/contract/galley';
import { collectionById } from '@/server/catalogue/collections';
import { galleyLines } from '@/server/catalogue/lines';
import { PrintedGalley } from '@/ui/galley/printed';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.printed.title };

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

/** More would hold the browser up for minutes, and nobody reads it on paper. */
const MOST_LINES = 3_000;

/** Every line of a view, for paper: the Galley itself has only those that are in sight. */
export default async function PrintPage({ params, searchParams }: Props) {
  const c = await collectionById((await params).collection);
  if (!c) notFound();
  const view = GalleyView.parse(await searchParams);
  const { total, lines } = await galleyLines(c.id, view, 0, MOST_LINES);
  return <PrintedGalley collection={c.id} name={c.name} view={view} total={total} lines={lines} />;
}
