import type { GatheredPage, GatheredPicture, SurveyStore } from './engine';

/** Keeps a survey in memory: for the command line, which answers once and is gone. */
export class MemoryStore implements SurveyStore {
  readonly pages: GatheredPage[] = [];
  readonly pictures = new Map<string, GatheredPicture>();
  readonly skipped: { address: string; reason: string }[] = [];
  private readonly seen = new Set<string>();
  private readonly waiting: { address: string; depth: number }[] = [];
  private handedOut = 0;

  constructor(
    private readonly maxPages: number,
    private readonly onProgress: (store: MemoryStore) => void = () => undefined,
  ) {}

  async enqueue(addresses: { address: string; depth: number }[]): Promise<void> {
    for (const item of addresses)
      if (!this.seen.has(item.address)) {
        this.seen.add(item.address);
        if (this.handedOut + this.waiting.length < this.maxPages) this.waiting.push(item);
        else this.skipped.push({ address: item.address, reason: `over the limit of ${this.maxPages} pages` });
      }
  }

  async next() {
    const item = this.waiting.shift() ?? null;
    if (item) this.handedOut++;
    return item;
  }

  async page(page: GatheredPage): Promise<void> {
    // Two addresses may redirect to one page.
    if (!this.pages.some((p) => p.address === page.address)) this.pages.push(page);
    this.seen.add(page.address);
  }

  async skip(address: string, reason: string): Promise<void> {
    this.seen.add(address);
    this.skipped.push({ address, reason });
  }

  async hasPicture(address: string): Promise<boolean> {
    return this.pictures.has(address);
  }

  async picture(picture: GatheredPicture): Promise<void> {
    this.pictures.set(picture.address, picture);
  }

  async progress(): Promise<void> {
    this.onProgress(this);
  }

  get waitingCount(): number {
    return this.waiting.length;
  }
}
