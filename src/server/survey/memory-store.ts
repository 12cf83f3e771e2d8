import type { GatheredPage, GatheredPicture, SurveyStore, Waiting } from './engine';
import { Skipped } from './source';

/** Keeps a survey in memory: for the command line, which answers once and is gone. */
export class MemoryStore implements SurveyStore {
  readonly loaded: Promise<void> = Promise.resolve();
  readonly pages: GatheredPage[] = [];
  readonly pictures = new Map<string, GatheredPicture>();
  private readonly passedOver = new Map<string, Skipped>();
  private readonly seen = new Set<string>();
  private readonly bySameKey = new Map<string, string>();
  private readonly waiting: Waiting[] = [];
  private handedOut = 0;

  constructor(
    private readonly maxPages: number,
    private readonly onProgress: (store: MemoryStore) => void = () => undefined,
  ) {}

  async enqueue(addresses: Waiting[]): Promise<void> {
    for (const item of addresses)
      if (!this.seen.has(item.address)) {
        this.seen.add(item.address);
        if (this.handedOut + this.waiting.length < this.maxPages) this.waiting.push(item);
        else this.passedOver.set(item.address, new Skipped(`over the limit of ${this.maxPages} pages`, 'limit'));
      }
  }

  async next() {
    const item = this.waiting.shift() ?? null;
    if (item) this.handedOut++;
    return item;
  }

  async page(page: GatheredPage): Promise<void> {
    this.seen.add(page.address);
    // Two addresses may redirect to one page, or show the same.
    if (this.pages.some((p) => p.address === page.address)) return;
    const same = page.sameKey === null ? undefined : this.bySameKey.get(page.sameKey);
    if (same) return this.skip(page.address, new Skipped(`the same page as ${same}`, 'same-page', page.status));
    if (page.sameKey !== null) this.bySameKey.set(page.sameKey, page.address);
    this.pages.push(page);
  }

  async skip(address: string, skipped: Skipped): Promise<void> {
    this.seen.add(address);
    this.passedOver.set(address, skipped);
  }

  async leave(addresses: { address: string; skipped: Skipped }[]): Promise<void> {
    for (const { address, skipped } of addresses)
      if (!this.seen.has(address) && !this.passedOver.has(address)) this.passedOver.set(address, skipped);
  }

  async sheet(address: string, _: string, skipped: Skipped | null): Promise<void> {
    if (skipped?.why === 'limit') this.passedOver.set(address, skipped);
  }

  /** The command line keeps nothing from one survey to the next. */
  async known(): Promise<null> {
    return null;
  }

  async knownPicture(): Promise<null> {
    return null;
  }

  async unchanged(): Promise<void> {
    throw new Error('nothing is known to be unchanged');
  }

  async pictureUnchanged(): Promise<void> {
    throw new Error('nothing is known to be unchanged');
  }

  /** What was passed over and was not read on another way; links to other hosts and the like left out. */
  get skipped(): { address: string; reason: string }[] {
    const read = new Set(this.pages.map((p) => p.address));
    return [...this.passedOver]
      .filter(([address, { why }]) => !read.has(address) && why !== 'other-host' && why !== 'nofollow')
      .map(([address, { reason }]) => ({ address, reason }));
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
