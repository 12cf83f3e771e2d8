import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { config } from '@/server/config';
import { lastSurveyOf } from '@/server/catalogue/collections';
import { DataProvider } from '@/ui/data/data-provider';
import { ActsProvider } from '@/ui/frame/acts';
import { Connection } from '@/ui/frame/connection';
import { Spine } from '@/ui/frame/spine';
import { strings } from '@/ui/strings';
import { collectionOnce, countsOnce } from './once';

export const dynamic = 'force-dynamic';

interface Props {
  children: ReactNode;
  params: Promise<{ collection: string }>;
}

/** Titles say the place and the collection, so that windows and bookmarks can be told apart. */
export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const c = await collectionOnce((await params).collection);
  return c ? { title: { default: c.name, template: `%s · ${c.name} · ${strings.product}` } } : {};
}

export default async function CollectionLayout({ children, params }: Props) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  const [survey, counts] = await Promise.all([lastSurveyOf(c.id), countsOnce(c.id)]);
  const day = survey ? strings.day(survey.startedAt, new Date()) : '';
  const surveyed = strings.spine.surveyed[survey?.state ?? 'never'](day);
  return (
    <DataProvider collection={c.id} state={c.revision + c.changes}>
      <ActsProvider collection={c.id}>
        <div className="frame">
          <Spine collection={{ id: c.id, name: c.name, surveyed, counts }} isSignedIn={config().token !== null} />
          <main id="sheet">
            <Connection collection={c.id} />
            {children}
          </main>
        </div>
      </ActsProvider>
    </DataProvider>
  );
}
