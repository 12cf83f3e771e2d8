import { importsOf } from '@/core/formats/html/backgrounds';
import { Skipped, UNCHANGED, asSkipped, type Source } from './source';
import type { SurveyStore } from './store';
import type { StyleSheet } from '@/core/model/document';

/** Bytes of a style sheet that are read. */
const MAX_SHEET = 2_000_000;
export const MAX_SHEETS_PER_PAGE = 20;
/** How deep style sheets that import others are followed, and how many one page leads to in all. */
const MAX_IMPORTS = 3;
export const MAX_SHEETS_IN_ALL = 50;

interface FetchedSheet {
  /** Null when it shows no picture. */
  sheet: StyleSheet | null;
  /** Addresses of those it imports. */
  imports: string[];
}

/** Style sheets of a survey, each fetched once. */
export class StyleSheets {
  private readonly sheets = new Map<string, Promise<FetchedSheet>>();

  constructor(
    private readonly source: Source,
    private readonly store: SurveyStore,
    private readonly signal: AbortSignal | undefined,
  ) {}

  /** A style sheet with those it imports before it, as they count; without those that show no picture or are not to be had. */
  async from(
    address: string,
    budget: { left: number; page: string },
    importedBy: readonly string[] = [],
  ): Promise<StyleSheet[]> {
    if (importedBy.includes(address) || importedBy.length > MAX_IMPORTS) return [];
    if (budget.left <= 0) {
      const reason = { id: 'skip.too-many-sheets', values: { limit: MAX_SHEETS_IN_ALL } };
      await this.store.sheet(address, budget.page, new Skipped(reason, 'limit'));
      return [];
    }
    budget.left--;
    const { sheet, imports } = await this.sheetAt(address, budget.page);
    const imported = await Promise.all(imports.map((other) => this.from(other, budget, [...importedBy, address])));
    return [...imported.flat(), ...(sheet ? [sheet] : [])];
  }

  /** A style sheet, fetched once for the whole survey. */
  private sheetAt(address: string, page: string): Promise<FetchedSheet> {
    let sheet = this.sheets.get(address);
    if (!sheet) {
      sheet = this.source.picture(address).then(
        async (got) => {
          await this.store.sheet(address, page, null);
          const css = got === UNCHANGED ? '' : got.bytes.subarray(0, MAX_SHEET).toString('utf8');
          const imports = importsOf(css)
            .slice(0, MAX_SHEETS_PER_PAGE)
            .map((other) => this.source.resolve(other, address, null));
          return {
            sheet: /background[^;}]*url\(/i.test(css) ? { address, css } : null,
            imports: imports.filter((other) => other !== null),
          };
        },
        async (error: unknown) => {
          if (!this.signal?.aborted) await this.store.sheet(address, page, asSkipped(error));
          return { sheet: null, imports: [] };
        },
      );
      this.sheets.set(address, sheet);
    }
    return sheet;
  }
}
