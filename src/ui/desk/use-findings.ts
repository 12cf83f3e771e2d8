import { useMemo } from 'react';
import type { DeskPicture, DeskPlace } from '@/contract/desk';
import type { Finding } from '@/core/model/finding';
import { withTexts } from '@/core/model/wording';
import { strings } from '../strings';
import { useLive } from './use-live';

/**
 * What is found at a place: in the words as they are written, and in the sets that the picture is part of.
 *
 * @param text as it is written now
 * @param pageText as the page has it
 * @param beside the title and the caption, as they are written now
 */
export function useFindings(
  collection: string,
  data: DeskPicture,
  place: DeskPlace,
  text: string,
  pageText: string,
  { title, caption }: { title: string; caption: string },
) {
  const task = useMemo(() => {
    const isEmpty = text.trim() === '';
    const words = !isEmpty ? text : place.state === 'decorative' ? '' : null;
    const appearance = withTexts(place.reading, {
      words,
      title: title.trim() === place.title.found ? null : title.trim(),
      caption: caption.trim() === place.caption.found ? null : caption.trim(),
    });
    const context = {
      id: String(place.id),
      page: place.page,
      picture: data.picture,
      appearance,
      purpose: place.purpose,
      purposeSettled: place.purposeSettled,
      targetTitle: place.targetTitle,
      isThumbnail: place.isThumbnail,
    };
    return { collection, style: data.style, phrases: data.phrases, context };
  }, [collection, data, place, text, title, caption]);
  const live = useLive(task);
  const titles = useMemo(
    () =>
      Object.fromEntries(
        Object.entries(data.rules).map(([id, { title }]) => [id, strings.ruleWords({ id, title, about: '' }).title]),
      ),
    [data.rules],
  );
  // What was ignored of other words comes back.
  const ignored = text.trim() === pageText.trim() ? place.ignored : [];
  const isAlone = (rule: string) => data.rules[rule]?.alone !== false;
  return {
    live,
    ignored,
    titles,
    findings: (live?.findings.map(withStoredFixes(place)) ?? place.findings.filter((f) => isAlone(f.rule))).filter(
      (f) => !ignored.some((a) => a.rule === f.rule),
    ),
    inSets: place.findings.filter((f) => !isAlone(f.rule)),
  };
}

/** Fixes that only the server makes, such as formulas in words, are those of the same finding as it is stored. */
const withStoredFixes = (place: DeskPlace) => (found: Finding) => {
  if (found.fixes?.length) return found;
  const message = JSON.stringify(found.message);
  const stored = place.findings.find((f) => f.rule === found.rule && JSON.stringify(f.message) === message);
  return stored ? { ...found, fixes: stored.fixes } : found;
};
