import { notFound } from 'next/navigation';
import { GalleyView } from '@/contract/galley';
import { pictureName } from '@/server/catalogue/picture-files';
import { collectionById } from '@/server/catalogue/collections';
import { deskPicture } from '@/server/desk/desk';
import { queueAt } from '@/server/catalogue/lines';
import { Desk } from '@/ui/desk/desk';
import { strings } from '@/ui/strings';
import {
  acceptWord,
  bringBack,
  choose,
  keep,
  saveLong,
  recordCredit,
  ignoreFinding,
  settle,
  undo,
} from '../../../../actions';

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
  const { collection, picture } = await params;
  const query = await searchParams;
  const c = await collectionById(collection);
  const id = Number(picture);
  if (!c || !Number.isSafeInteger(id)) notFound();
  const view = GalleyView.parse(query);
  const place = Number(query['place']) || null;
  const [data, queue] = await Promise.all([deskPicture(c, id, place), queueAt(c.id, view, id)]);
  if (!data) notFound();
  return (
    <Desk
      key={`${id} ${data.places[0]!.id}`}
      collection={c.id}
      picture={id}
      view={view}
      data={data}
      queue={queue}
      now={new Date().toISOString()}
      keep={keep}
      choose={choose}
      settle={settle}
      undo={undo}
      notes={{ ignoreFinding, bringBack, acceptWord }}
      record={recordCredit}
      saveLong={saveLong}
    />
  );
}
