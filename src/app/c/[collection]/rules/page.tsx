import { notFound } from 'next/navigation';
import { RULES } from '@/core/rules';
import { collectionById } from '@/server/catalogue/collections';
import { galleyFacets } from '@/server/catalogue/facets';
import { RuleList } from '@/ui/rules/rule-list';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.rules.title };

export default async function RulesPage({ params }: { params: Promise<{ collection: string }> }) {
  const { collection } = await params;
  const c = await collectionById(collection);
  if (!c) notFound();
  const { rules } = await galleyFacets(collection);
  const found = new Map(rules.map((r) => [r.rule, r.pictures]));
  return (
    <div className="sheet">
      <RuleList
        collection={collection}
        rules={RULES.map((rule) => ({
          id: rule.id,
          title: strings.ruleWords(rule).title,
          group: rule.group,
          gives: rule.gives,
          off: c.style[rule.id]?.off ?? false,
          found: found.get(rule.id) ?? 0,
        }))}
      />
    </div>
  );
}
