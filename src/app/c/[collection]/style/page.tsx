import { notFound } from 'next/navigation';
import { fieldsOf } from '@/core/house-style/fields';
import { RULES } from '@/core/rules';
import { progressOf } from '@/server/jobs/progress';
import { collectionById } from '@/server/catalogue/collections';
import { strings } from '@/ui/strings';
import { StyleEditor } from '@/ui/style/style-editor';
import { effectOf, saveHouseStyleFile, readStyle } from '../../../actions';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.style.title };

export default async function StylePage({ params }: { params: Promise<{ collection: string }> }) {
  const c = await collectionById((await params).collection);
  if (!c) notFound();
  const rules = RULES.map((rule) => ({
    id: rule.id,
    title: strings.ruleWords(rule).title,
    group: rule.group,
    gives: rule.gives,
    defaults: rule.parameters.parse({}) as Record<string, unknown>,
    fields: fieldsOf(rule),
  }));
  return (
    <div className="sheet">
      <StyleEditor
        key={JSON.stringify(c.style)}
        collection={c.id}
        name={c.name}
        rules={rules}
        kept={c.style}
        jobs={await progressOf(c.id)}
        effectOf={effectOf}
        saveHouseStyle={saveHouseStyleFile}
        readStyle={readStyle}
      />
    </div>
  );
}
