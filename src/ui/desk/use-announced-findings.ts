import { useEffect, useRef } from 'react';
import type { Finding } from '@/core/model/finding';
import { strings } from '../strings';

/** Milliseconds without a key after which what is found is said. */
const PAUSE_MS = 1_200;

/** Says what the rules find once typing pauses: once, briefly, and only when it has changed. */
export function useAnnouncedFindings(
  text: string,
  findings: readonly Pick<Finding, 'rule'>[],
  titles: Readonly<Record<string, string>>,
  say: (message: string) => void,
): void {
  const started = useRef(text);
  const said = useRef<string | null>(null);
  const now = findings.map((f) => titles[f.rule] ?? f.rule).join(', ');
  useEffect(() => {
    // What was found before a key was pressed is said with the picture.
    if (text === started.current && said.current === null) return;
    const timer = setTimeout(() => {
      if (said.current === now) return;
      said.current = now;
      say(strings.desk.findings(findings.length, now));
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text, now, findings.length, say]);
}
