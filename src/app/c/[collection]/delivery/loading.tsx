import { strings } from '@/ui/strings';

export default function Loading() {
  return (
    <p className="sheet text-[17px] text-ink-2" role="status">
      {strings.delivery.checking}
    </p>
  );
}
