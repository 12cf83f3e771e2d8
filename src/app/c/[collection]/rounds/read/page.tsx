import { notFound } from 'next/navigation';
import { ReadingView } from '@/contract/drafting';
import { draftPage, readingList } from '@/server/drafting/reading';
import { listServices } from '@/server/drafting/services';
import { Reading } from '@/ui/reading/reading';
import { strings } from '@/ui/strings';
import { collectionOnce } from '../../once';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.reading.title };

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function ReadingPage({ params, searchParams }: Props) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  const asked = await searchParams;
  const view = ReadingView.parse({ ...asked, round: asked['round'] ?? null });
  const [list, services] = await Promise.all([readingList(c.id, view), listServices()]);
  const wanted = list.items.find((i) => String(i.id) === asked['draft']) ?? list.items[0];
  const first = wanted ? await draftPage(c.id, wanted.id) : null;
  return <Reading collection={c.id} view={view} opened={{ list, first, services }} />;
}
