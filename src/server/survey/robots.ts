interface RobotsRule {
  allow: boolean;
  /** The pattern as written, percent-encoding normalised. */
  pattern: string;
  matches(path: string): boolean;
}

interface Group {
  agents: string[];
  rules: RobotsRule[];
  crawlDelay: number | null;
}

/** Bytes of robots.txt that are read at least (RFC 9309, 2.5). */
export const ROBOTS_LIMIT = 512_000;

/** Octets outside the reserved set compared as RFC 3986 6.2.2 has it: decoded where unreserved, else upper-case hex. */
function normalisePath(path: string): string {
  const encoded = path.replace(/[^\x21-\x7e]/gu, (c) => encodeURIComponent(c));
  return encoded.replace(/%([0-9a-f]{2})/gi, (all, hex: string) => {
    const char = String.fromCharCode(parseInt(hex, 16));
    return /[A-Za-z0-9\-._~]/.test(char) ? char : all.toUpperCase();
  });
}

/**
 * What a path pattern matches: `*` any run of characters, `$` at the end the end (2.2.3). Each part between stars is
 * looked for once, from where the part before it ended, so that no pattern can take long: the first place at which a part
 * fits leaves most for the others.
 */
function patternOf(value: string): Omit<RobotsRule, 'allow'> {
  const pattern = normalisePath(value);
  const anchored = pattern.endsWith('$');
  const [head = '', ...rest] = (anchored ? pattern.slice(0, -1) : pattern).split(/\*+/);
  const tail = anchored ? rest.pop() : undefined;
  const matches = (path: string): boolean => {
    if (!path.startsWith(head)) return false;
    let at = head.length;
    for (const part of rest) {
      const found = path.indexOf(part, at);
      if (found < 0) return false;
      at = found + part.length;
    }
    if (!anchored) return true;
    return tail === undefined ? at === path.length : path.length - tail.length >= at && path.endsWith(tail);
  };
  return { pattern, matches };
}

/** A test of paths with their query for a pattern as robots.txt writes it. */
export function pathPattern(value: string): (path: string) => boolean {
  const { matches } = patternOf(value);
  return (path) => matches(normalisePath(path));
}

/** The rules of one robots.txt for one crawler (RFC 9309). */
export class Robots {
  private readonly rules: RobotsRule[];
  /** Seconds between requests; no part of the RFC, but widely written (common practice). */
  readonly crawlDelay: number | null;
  /** Addresses as written (sitemaps protocol, "Submitting your Sitemap"). */
  readonly sitemaps: string[] = [];

  /**
   * @param text the file; empty when there is none, which allows everything
   * @param product the crawler's product token, such as `DettoBot`
   */
  constructor(text: string, product: string) {
    const groups: Group[] = [];
    let current: Group | null = null;
    let open = false;
    for (const line of text.replace(/^\ufeff/, '').split(/\r\n?|\n/)) {
      const m = /^\s*([A-Za-z-]+)\s*:(.*)$/.exec(line.split('#', 1)[0]!);
      if (!m) continue;
      const field = m[1]!.toLowerCase();
      const value = m[2]!.trim();
      if (field === 'user-agent') {
        if (!current || !open) groups.push((current = { agents: [], rules: [], crawlDelay: null }));
        current.agents.push(value.toLowerCase());
        open = true;
      } else if (field === 'allow' || field === 'disallow') {
        open = false;
        if (value && current) current.rules.push({ allow: field === 'allow', ...patternOf(value) });
      } else if (field === 'crawl-delay') {
        const delay = Number(value);
        if (current && delay >= 0) current.crawlDelay = delay;
      } else if (field === 'sitemap') this.sitemaps.push(value);
      // Any other line does not end a group (RFC 9309, 2.2.4).
    }
    const token = product.toLowerCase();
    const named = groups.filter((g) => g.agents.some((a) => (/^[a-z_-]+/.exec(a)?.[0] ?? '') === token));
    const chosen = named.length > 0 ? named : groups.filter((g) => g.agents.includes('*'));
    this.rules = chosen.flatMap((g) => g.rules);
    this.crawlDelay = chosen.find((g) => g.crawlDelay !== null)?.crawlDelay ?? null;
  }

  /** Whether a path with its query may be fetched: the longest match wins, allow on a tie (2.2.2). */
  allows(path: string): boolean {
    const wanted = normalisePath(path);
    if (wanted === '/robots.txt') return true;
    let best: RobotsRule | null = null;
    for (const rule of this.rules) {
      if (!rule.matches(wanted)) continue;
      const longer = !best || rule.pattern.length > best.pattern.length;
      const tie = best && rule.pattern.length === best.pattern.length && rule.allow;
      if (longer || tie) best = rule;
    }
    return best?.allow ?? true;
  }
}
