import { accessSync, constants } from 'node:fs';
import path from 'node:path';

const NAMES = ['chromium', 'chromium-browser', 'google-chrome-stable', 'google-chrome', 'chrome'];
const PLACES = [
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
  'C:\\Program Files\\Google\\Chrome\\Application\\chrome.exe',
];

/**
 * The system's Chromium, or another browser of its family.
 *
 * @param named what the person who runs Detto says; only this one is taken then
 */
export function findChromium(named: string | null): string | null {
  const folders = (process.env.PATH ?? '').split(path.delimiter).filter(Boolean);
  const places = named ? [named] : [...NAMES.flatMap((name) => folders.map((f) => path.join(f, name))), ...PLACES];
  return (
    places.find((place) => {
      try {
        accessSync(place, constants.X_OK);
        return true;
      } catch {
        return false;
      }
    }) ?? null
  );
}
