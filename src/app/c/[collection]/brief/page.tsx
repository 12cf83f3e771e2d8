import { notFound } from 'next/navigation';
import { RULES } from '@/core/rules';
import { storedBrief } from '@/server/brief/stored-brief';
import { progressOf } from '@/server/jobs/progress';
import { choose, switchOff } from '../../../actions';
import { BriefView } from '@/ui/brief/brief-view';
import { FollowChanges } from '@/ui/data/follow-changes';
import { strings } from '@/ui/strings';
import { collectionOnce } from '../once';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.brief.title };

export default async function BriefPage({ params }: { params: Promise<{ collection: string }> }) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  return (
    <div className="sheet">
      <FollowChanges />
      <BriefView
        collection={c.id}
        of={{ name: c.name, root: c.kind === 'site' || c.kind === 'folder' ? c.root : null }}
        brief={await storedBrief(c)}
        jobs={await progressOf(c.id)}
        choose={choose}
        switchOff={switchOff}
        now={new Date().toISOString()}
        titles={Object.fromEntries(RULES.map((rule) => [rule.id, strings.ruleWords(rule).title]))}
      />
    </div>
  );
}
