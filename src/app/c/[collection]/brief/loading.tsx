import { strings } from '@/ui/strings';

/** On a large collection counting takes seconds. */
export default function Loading() {
  return (
    <p className="sheet text-[17px] text-ink-2" role="status">
      {strings.brief.counting}
    </p>
  );
}
