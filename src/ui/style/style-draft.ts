import type { RuleSetting } from '@/contract/house-style';
import type { RuleStyle } from '@/core/rules/audit';

/** A house style while it is changed: what is kept, and what would be. */
export interface StyleDraft {
  rules: readonly RuleSetting[];
  kept: RuleStyle;
  style: RuleStyle;
}

/** A parameter of a rule: as it is set, else as it is by default. */
export function parameter<T>({ rules, style }: Pick<StyleDraft, 'rules' | 'style'>, rule: string, name: string): T {
  const set = style[rule]?.parameters?.[name];
  return (set === undefined ? rules.find((r) => r.id === rule)!.defaults[name] : set) as T;
}

/** The style with one parameter set. */
export function withParameter(style: RuleStyle, rule: string, name: string, value: unknown): RuleStyle {
  const own = style[rule];
  return { ...style, [rule]: { ...own, parameters: { ...own?.parameters, [name]: value } } };
}

/** Whether two styles ask for the same, whatever of it is written out. */
export function sameStyle(rules: readonly RuleSetting[], a: RuleStyle, b: RuleStyle): boolean {
  return rules.every(
    ({ id, defaults }) =>
      standingOf(a, id) === standingOf(b, id) &&
      Object.keys(defaults).every(
        (name) =>
          JSON.stringify(parameter({ rules, style: a }, id, name)) ===
          JSON.stringify(parameter({ rules, style: b }, id, name)),
      ),
  );
}

export type Standing = 'off' | 'as given' | 'failed' | 'cantTell' | 'advice';

/** Whether a rule is asked, and what its findings count as. */
export function standingOf(style: RuleStyle, rule: string): Standing {
  const own = style[rule];
  return own?.off ? 'off' : (own?.outcome ?? 'as given');
}

export function withStanding(style: RuleStyle, rule: string, standing: Standing): RuleStyle {
  const parameters = style[rule]?.parameters;
  const own = {
    ...(parameters ? { parameters } : {}),
    ...(standing === 'off' ? { off: true } : standing === 'as given' ? {} : { outcome: standing }),
  };
  return { ...style, [rule]: own };
}

/** Lines of a field as a list; empty ones are left out. */
export const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

/** `web site = website`, one a line. @param keys of what stands before and behind the equals sign */
export function pairsOf(text: string, [before, behind]: readonly string[]): Record<string, string>[] {
  return linesOf(text).flatMap((line) => {
    const [first, second, ...more] = line.split('=').map((part) => part.trim());
    return first && second && more.length === 0 ? [{ [before!]: first, [behind!]: second }] : [];
  });
}

export const pairLines = (pairs: readonly Readonly<Record<string, string>>[], keys: readonly string[]): string =>
  pairs.map((pair) => keys.map((key) => pair[key]).join(' = ')).join('\n');
