import type { Browser, BrowserContextOptions, Page } from 'playwright-core';
import { DETTO, listening, openBrowser, openPage, ownDetto } from './detto';

/** A picture as the Galley's interface gives it, as far as tests look at it. */
export interface Line {
  id: number;
  appearanceId: number;
  name: string;
  heard: string;
  state: string;
  purpose: string;
  revision: number;
  notes: { rule: string; message: string }[];
}

/** What the tests of one file share: a browser, a page at the design size, and a collection of the demo site. */
export interface Session {
  browser: Browser;
  page: Page;
  /** Everything that went wrong in the page. */
  problems: string[];
  /** Id of the collection; empty where the file brings its own. */
  collection: string;
  /** The first line that a search for a file's name finds. */
  lineOf(file: string, collection?: string): Promise<Line>;
  /** Opens a picture at the Desk, and waits until it can be worked with. */
  openDesk(file: string, query?: string): Promise<void>;
  altText(on?: Page): ReturnType<Page['getByRole']>;
  /** Waits until the Desk says that the text is saved. */
  saved(on?: Page): Promise<void>;
  /** Waits for a message that is announced. */
  announced(text: string | RegExp): Promise<void>;
}

/** @param on `demo`: a Detto of their own with the surveyed demo site; `shared`: the Detto of all tests */
export async function session(on: 'demo' | 'shared', options?: BrowserContextOptions): Promise<Session> {
  const browser = await openBrowser();
  afterAll(() => browser.close());
  const collection = on === 'demo' ? await ownDetto() : '';
  const { page, problems } = await openPage(browser, options);
  const lineOf = async (file: string, of = collection) => {
    const response = await fetch(`${DETTO}/api/collections/${of}/lines?q=${encodeURIComponent(file)}`);
    const { lines } = (await response.json()) as { lines: Line[] };
    return lines.find((l) => l.name === file) ?? lines[0]!;
  };
  return {
    browser,
    page,
    problems,
    collection,
    lineOf,
    async openDesk(file, query = '') {
      await page.goto(`/c/${collection}/desk/${(await lineOf(file)).id}${query}`);
      await listening(page);
    },
    altText: (on = page) => on.getByRole('textbox', { name: 'Alt text' }),
    saved: (on = page) =>
      on
        .getByRole('status')
        .filter({ hasText: /^Saved$/ })
        .waitFor(),
    announced: (text) => page.getByRole('status').filter({ hasText: text }).first().waitFor(),
  };
}
