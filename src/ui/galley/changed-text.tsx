import { diffWords } from 'diff';
import type { TextChange } from '@/contract/bulk';
import { strings } from '../strings';

/** A text before and after, its changes marked; of which picture, and in how many places. */
export function ChangedText({ change: { before, after, places, picture } }: { change: TextChange }) {
  return (
    <div className="min-w-0">
      <p className="changed-text">
        {diffWords(before, after).map((part, i) =>
          part.added ? (
            <ins key={i}>{part.value}</ins>
          ) : part.removed ? (
            <del key={i}>{part.value}</del>
          ) : (
            <span key={i}>{part.value}</span>
          ),
        )}
      </p>
      <p className="text-[13px] text-ink-2">
        {strings.replace.where(strings.pictureName(picture), strings.places(places))}
      </p>
    </div>
  );
}
