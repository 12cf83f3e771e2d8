import { notFound } from 'next/navigation';
import { ruleById } from '@/core/rules';
import { failuresOf } from '@/server/audit/rule-examples';
import { countIgnored } from '@/server/audit/ignored';
import { collectionById } from '@/server/catalogue/collections';
import { galleyFacets } from '@/server/catalogue/facets';
import { RulePage } from '@/ui/rules/rule-page';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';

interface Props {
  params: Promise<{ collection: string; rule: string }>;
}

export async function generateMetadata({ params }: Props) {
  const rule = ruleById((await params).rule);
  return { title: rule && strings.ruleWords(rule).title };
}

export default async function RuleRoute({ params }: Props) {
  const { collection, rule: asked } = await params;
  const rule = ruleById(asked);
  if (!rule) notFound();
  const { id } = rule;
  const c = await collectionById(collection);
  if (!c) notFound();
  const [{ rules }, ignored] = await Promise.all([galleyFacets(collection), countIgnored(collection, id)]);
  return (
    <div className="sheet">
      <RulePage
        collection={collection}
        rule={rule}
        failures={failuresOf(rule)}
        found={rules.find((r) => r.rule === id)?.pictures ?? 0}
        ignored={ignored}
        style={c.style}
      />
    </div>
  );
}
