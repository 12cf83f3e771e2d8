import { notFound } from 'next/navigation';
import { GalleyView } from '@/contract/galley';
import { pictureName } from '@/server/catalogue/picture-files';
import { queueAt } from '@/server/catalogue/views';
import { deskPicture } from '@/server/desk/desk';
import { DeskRoom } from '@/ui/desk/desk-room';
import { strings } from '@/ui/strings';
import {
  acceptWord,
  bringBack,
  choose,
  ignoreFinding,
  placeLong,
  recordCredit,
  settle,
  showCredit,
} from '../../../../actions';
import { collectionOnce } from '../../once';

export const dynamic = 'force-dynamic';
interface Props {
  params: Promise<{ collection: string; picture: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export async function generateMetadata({ params }: Props) {
  const { collection, picture } = await params;
  const name = await pictureName(collection, Number(picture));
  return { title: name ? `${name} · ${strings.desk.title}` : strings.desk.title };
}

export default async function DeskPage({ params, searchParams }: Props) {
  const { collection, picture: asked } = await params;
  const query = await searchParams;
  const c = await collectionOnce(collection);
  const picture = Number(asked);
  if (!c || !Number.isSafeInteger(picture)) notFound();
  const view = GalleyView.parse(query);
  const place = Number(query['place']) || null;
  const [data, queue] = await Promise.all([deskPicture(c, picture, place), queueAt(c.id, view, picture)]);
  if (!data) notFound();
  return (
    <DeskRoom
      collection={c.id}
      name={c.name}
      view={view}
      opened={{ picture, place, data, queue }}
      actions={{
        choose,
        settle,
        notes: { ignoreFinding, bringBack, acceptWord },
        record: recordCredit,
        placeLong,
        showCredit,
      }}
    />
  );
}
