'use client';

import { useEffect, useState } from 'react';
import { whatIsWrong } from '@/ui/frame/what-is-wrong';
import { strings } from '@/ui/strings';

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  const s = strings.error;
  const [wrong, setWrong] = useState<string | null>(null);
  useEffect(() => void whatIsWrong().then(setWrong), []);
  return (
    <main id="sheet" className="sheet">
      <h1 className="text-[25px]">{s.title}</h1>
      <p className="mt-2 text-ink-2">{wrong ?? s.about}</p>
      <button type="button" className="button mt-5" onClick={reset}>
        {s.again}
      </button>
    </main>
  );
}
