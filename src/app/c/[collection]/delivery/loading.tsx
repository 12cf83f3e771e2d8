import { strings } from '@/ui/strings/en';

export default function Loading() {
  return (
    <p className="sheet text-[17px] text-ink-2" role="status">
      {strings.delivery.checking}
    </p>
  );
}
