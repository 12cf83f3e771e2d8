import { notFound } from 'next/navigation';
import { RULES } from '@/core/rules';
import { collectionById } from '@/server/catalogue/collections';
import { GalleyView } from '@/contract/galley';
import { galleyFacets, galleyLines } from '@/server/catalogue/lines';
import { Galley } from '@/ui/galley/galley';
import { Sentence } from '@/ui/galley/sentence';
import { strings } from '@/ui/strings';
import { acceptWord, answerDrafts, bringBack, draft, keep, ignoreFinding } from '../../../actions';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.galley.title };

const FIRST_WINDOW = 100;

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function GalleyPage({ params, searchParams }: Props) {
  const c = await collectionById((await params).collection);
  if (!c) notFound();
  const view = GalleyView.parse(await searchParams);
  const [first, facets] = await Promise.all([galleyLines(c.id, view, 0, FIRST_WINDOW), galleyFacets(c.id)]);
  return (
    <>
      <Sentence
        collection={c.id}
        view={view}
        facets={facets}
        rules={RULES.map((rule) => ({ id: rule.id, title: strings.ruleWords(rule).title }))}
        total={first.total}
      />
      <Galley
        key={JSON.stringify(view)}
        collection={c.id}
        view={view}
        first={first}
        allPictures={facets.all}
        keep={keep}
        draft={draft}
        answerDrafts={answerDrafts}
        titles={Object.fromEntries(RULES.map((rule) => [rule.id, strings.ruleWords(rule).title]))}
        notes={{ ignoreFinding, bringBack, acceptWord }}
      />
    </>
  );
}
