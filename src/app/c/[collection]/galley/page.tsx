import { notFound } from 'next/navigation';
import { RULES } from '@/core/rules';
import { GalleyView } from '@/contract/galley';
import { OUTCOMES } from '@/core/model/finding';
import { galleyLines } from '@/server/catalogue/lines';
import { Galley } from '@/ui/galley/galley';
import { strings } from '@/ui/strings';
import { acceptWord, answerDrafts, bringBack, choose, draft, ignoreFinding } from '../../../actions';
import { collectionOnce, countsOnce } from '../once';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.galley.title };

const FIRST_WINDOW = 100;

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function GalleyPage({ params, searchParams }: Props) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  const view = GalleyView.parse(await searchParams);
  const [lines, counts] = await Promise.all([galleyLines(c.id, view, 0, FIRST_WINDOW), countsOnce(c.id)]);
  return (
    <Galley
      collection={c.id}
      opened={{ view, lines, counts }}
      rules={RULES.map((rule) => ({
        id: rule.id,
        title: strings.ruleWords(rule).title,
        outcome: OUTCOMES.find((o) => rule.gives.includes(o)) ?? 'advice',
      }))}
      actions={{ choose, draft, answerDrafts, notes: { ignoreFinding, bringBack, acceptWord } }}
    />
  );
}
