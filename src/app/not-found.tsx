import Link from 'next/link';
import { strings } from '@/ui/strings';

export default function NotFound() {
  const s = strings.error;
  return (
    <main id="sheet" className="sheet">
      <h1 className="text-[25px]">{s.notFound}</h1>
      <p className="mt-2 text-ink-2">{s.notFoundAbout}</p>
      <Link href="/" className="button mt-5 inline-block no-underline">
        {s.toShelf}
      </Link>
    </main>
  );
}
