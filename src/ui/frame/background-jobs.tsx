'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import type { JobProgress } from '@/contract/jobs';
import { strings } from '../strings';

/** Milliseconds between two looks at the jobs while there are any. */
const POLL_MS = 700;

/** Of several, the one that is named: what runs before what waits. */
const ORDER: JobProgress['state'][] = ['running', 'stopping', 'waiting', 'failed'];

/**
 * What is done in the background for a collection, in one line, and how far it is. It follows while there is something to
 * do, and draws the page again whenever a job is done.
 *
 * @param jobs as they were when the page was drawn
 */
export function BackgroundJobs({ collection, jobs }: { collection: string; jobs: readonly JobProgress[] }) {
  const router = useRouter();
  const [followed, setFollowed] = useState({ from: jobs, now: jobs });
  const now = followed.from === jobs ? followed.now : jobs;
  const isBusy = now.some((j) => j.state !== 'failed');
  useEffect(() => {
    if (!isBusy) return;
    const timer = setTimeout(() => {
      fetch(`/api/collections/${collection}/jobs`)
        .then((answer) => (answer.ok ? (answer.json() as Promise<JobProgress[]>) : now))
        .then(
          (next) => {
            const isOver = now.some((j) => !next.some((n) => n.kind === j.kind));
            setFollowed({ from: jobs, now: next });
            if (isOver) router.refresh();
          },
          () => setFollowed({ from: jobs, now: [...now] }),
        );
    }, POLL_MS);
    return () => clearTimeout(timer);
  }, [collection, jobs, now, isBusy, router]);
  const [named] = [...now]
    .filter((j) => j.kind !== 'survey')
    .sort((a, b) => ORDER.indexOf(a.state) - ORDER.indexOf(b.state));
  const s = strings.jobs;
  return (
    <p role="status" className="text-[14px] text-ink-2 empty:hidden">
      {named &&
        (named.state === 'failed' ? s.failed(s[named.kind], named.error ?? '') : s.line(s[named.kind], named.share))}
    </p>
  );
}
