import type { Appearance } from '@/core/model/appearance';
import { strings } from '../strings';

/**
 * What a screen reader says at a picture with some words.
 *
 * @param reading null where it is not known whether the picture names a link or a button
 */
export function heardAs(reading: Appearance | null, words: string): string {
  const control = reading?.context.control?.text === '' ? reading.context.control : null;
  const s = strings.desk;
  if (words === '') return control ? s.nothingControl(control.kind) : s.nothing;
  return control ? s.saidControl(control.kind, words) : s.described(words);
}

/** Whether this browser can speak (Web Speech API). */
export const canSpeak = (): boolean => typeof window !== 'undefined' && 'speechSynthesis' in window;

/**
 * Speaks words in their language, in place of what is being spoken.
 *
 * @param lang BCP 47; null where the page does not say
 * @returns false where the browser cannot
 */
export function speak(words: string, lang: string | null): boolean {
  if (!canSpeak()) return false;
  const utterance = new SpeechSynthesisUtterance(words);
  if (lang) utterance.lang = lang;
  speechSynthesis.cancel();
  speechSynthesis.speak(utterance);
  return true;
}
