'use client';

import { useEffect, useRef, useState } from 'react';
import type { LiveAnswer, LiveTask } from '@/contract/live';

/**
 * What the core finds in the words as they are written; it runs in a worker, so that writing is never held up.
 *
 * @returns null until the worker has answered for the first time
 */
export function useLive(task: Omit<LiveTask, 'id'>): LiveAnswer | null {
  const [answer, setAnswer] = useState<LiveAnswer | null>(null);
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  useEffect(() => {
    const own = new Worker(new URL('../../workers/live.ts', import.meta.url), { type: 'module' });
    own.onmessage = ({ data }: MessageEvent<LiveAnswer>) => {
      if (data.id === asked.current) setAnswer(data);
    };
    worker.current = own;
    return () => {
      own.terminate();
      worker.current = null;
    };
  }, []);
  useEffect(() => {
    worker.current?.postMessage({ ...task, id: ++asked.current } satisfies LiveTask);
  }, [task]);
  return answer;
}
