'use client';

import { strings } from '@/ui/strings/en';

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  const s = strings.error;
  return (
    <main id="sheet" className="sheet">
      <h1 className="text-[25px]">{s.title}</h1>
      <p className="mt-2 text-ink-2">{s.about}</p>
      <button type="button" className="button mt-5" onClick={reset}>
        {s.again}
      </button>
    </main>
  );
}
