import { UserError } from '../model/user-error';
import { z } from 'zod';
import type { RuleStyle } from '../rules/audit';
import { currentRuleId } from '../rules/support/former-ids';
import type { BookMetadata, FrontMatterKeys, ReadContext } from '../model/document';
import { RULES, ruleById } from '../rules';
import { OUTCOMES } from '../model/finding';

/** What tells a house style's file from others; rises when an older reader could not read it. */
const FORMAT = 'detto-house-style';
const VERSION = 1;

const File = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  rules: z.record(
    z.string(),
    z.strictObject({
      off: z.boolean().optional(),
      outcome: z.enum(OUTCOMES).optional(),
      parameters: z.record(z.string(), z.unknown()).optional(),
    }),
  ),
});

/** The ids of the rules that two styles do not set alike. */
export function changedRules(before: RuleStyle, after: RuleStyle): string[] {
  const inWords = (style: RuleStyle, id: string) => JSON.stringify(ordered(settled(style, id)));
  return RULES.map((r) => r.id).filter((id) => inWords(before, id) !== inWords(after, id));
}

/** One rule's settings with its defaults in place. */
function settled(style: RuleStyle, id: string) {
  const own = style[id];
  const schema = ruleById(id)!.parameters;
  const parameters = schema.safeParse(own?.parameters ?? {});
  return {
    off: own?.off ?? false,
    outcome: own?.outcome ?? null,
    parameters: parameters.success ? parameters.data : schema.parse({}),
  };
}

/** The same with the keys of objects in one order. */
function ordered(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(ordered);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, v]) => [key, ordered(v)]),
  );
}

/** Only what differs from the defaults, so that a later default reaches those who never chose. */
export function withoutDefaults(style: RuleStyle): RuleStyle {
  const out: RuleStyle = {};
  for (const rule of RULES) {
    const own = style[rule.id];
    if (!own) continue;
    const defaults = rule.parameters.parse({}) as Record<string, unknown>;
    const parameters = Object.fromEntries(
      Object.entries(own.parameters ?? {}).filter(
        ([key, value]) => JSON.stringify(ordered(value)) !== JSON.stringify(ordered(defaults[key])),
      ),
    );
    const kept = {
      ...(own.off ? { off: true } : {}),
      ...(own.outcome ? { outcome: own.outcome } : {}),
      ...(Object.keys(parameters).length > 0 ? { parameters } : {}),
    };
    if (Object.keys(kept).length > 0) out[rule.id] = kept;
  }
  return out;
}

/** A house style as the file that teams share. */
export function writeHouseStyle(style: RuleStyle): string {
  const file: z.infer<typeof File> = { format: FORMAT, version: VERSION, rules: withoutDefaults(style) };
  return `${JSON.stringify(file, null, 2)}\n`;
}

/**
 * Reads the file of a house style.
 *
 * @throws Error that says what is wrong, and where
 */
export function readHouseStyle(text: string): RuleStyle {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text.replace(/^\ufeff/, ''));
  } catch (error) {
    throw new UserError(`The file is not JSON: ${(error as Error).message}`);
  }
  const file = File.safeParse(parsed);
  if (!file.success) throw new UserError(`The file is no house style of Detto: ${inWords(file.error)}`);
  const rules = Object.entries(file.data.rules).map(([id, own]) => [currentRuleId(id), own] as const);
  return checkStyle(Object.fromEntries(rules) as RuleStyle);
}

/**
 * Checks settings that come from outside.
 *
 * @throws Error that names the rule and the setting
 */
export function checkStyle(style: RuleStyle): RuleStyle {
  for (const [id, own] of Object.entries(style)) {
    const rule = ruleById(id);
    if (!rule) throw new UserError(`There is no rule “${id}”.`);
    const schema = rule.parameters;
    const parameters = (schema instanceof z.ZodObject ? schema.strict() : schema).safeParse(own.parameters ?? {});
    if (!parameters.success) throw new UserError(`The rule “${id}”: ${inWords(parameters.error)}`);
  }
  return withoutDefaults(style);
}

const inWords = (error: z.ZodError) => {
  const issue = error.issues[0]!;
  const at = issue.path.join('.');
  return at ? `${at}: ${issue.message}` : issue.message;
};

/** What parameters say of themselves (`FieldMeta`) in the words of JSON Schema: `title` and `description`. */
function withStandardWords({ jsonSchema }: { jsonSchema: Record<string, unknown> }): void {
  const {
    label,
    help,
    lead: _lead,
    unit: _unit,
    scale: _scale,
    section: _section,
    choices: _choices,
    ...own
  } = jsonSchema;
  for (const key of Object.keys(jsonSchema)) delete jsonSchema[key];
  Object.assign(jsonSchema, {
    ...(label === undefined ? {} : { title: label }),
    ...(help === undefined ? {} : { description: help }),
    ...own,
  });
}

/** The JSON Schema (2020-12) of the file. */
export function houseStyleSchema(): object {
  const rules = Object.fromEntries(
    RULES.map((rule) => [
      rule.id,
      {
        type: 'object',
        title: rule.title,
        additionalProperties: false,
        properties: {
          off: { type: 'boolean' },
          outcome: { enum: OUTCOMES },
          parameters: z.toJSONSchema(rule.parameters, { io: 'input', override: withStandardWords }),
        },
      },
    ]),
  );
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'House style of a Detto collection',
    type: 'object',
    additionalProperties: false,
    required: ['format', 'version', 'rules'],
    properties: {
      format: { const: FORMAT },
      version: { const: VERSION },
      rules: { type: 'object', additionalProperties: false, properties: rules },
    },
  };
}

/** The parameters of a rule as a style sets them, with its defaults in place. @param id of a rule */
export const settingsOfRule = (style: RuleStyle, id: string): unknown => settled(style, id).parameters;

/** Graphemes that a draft may have: the smaller of what a style sets as its most and its limit. */
export function draftLimitOf(style: RuleStyle): number {
  const { maximum } = settingsOfRule(style, 'house-style') as { maximum: number };
  return maximum > 0 ? Math.min(maximum, limitOf(style)) : limitOf(style);
}

/** What a page says below pictures whose alt text a machine drafted, as a style wants it; empty for nothing. */
export const draftNoteOf = (style: RuleStyle): string =>
  (settingsOfRule(style, 'house-style') as { draftNote: string }).draftNote;

/** What a style says of reading and writing documents. */
export function documentContextOf(style: RuleStyle): Required<Pick<ReadContext, 'frontMatter' | 'book'>> {
  const { frontMatter, bookAdds, bookSummary } = settingsOfRule(style, 'house-style') as {
    frontMatter: FrontMatterKeys[];
    bookAdds: BookMetadata['adds'];
    bookSummary: string;
  };
  return { frontMatter, book: { adds: bookAdds, summary: bookSummary } };
}

/** Graphemes from which a text is over the limit of a style. */
export function limitOf(style: RuleStyle): number {
  return (settled(style, 'overlong').parameters as { limit: number }).limit;
}
