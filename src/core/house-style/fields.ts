import { z } from 'zod';

/**
 * How a parameter of a rule is set by people. It is declared on the parameter itself, by Zod's `meta`, so that a new
 * one is written down in one file.
 */
export interface FieldMeta {
  /** What it is, for those who do not hear the sentence around it. */
  label: string;
  /** What stands before the field, as the beginning of a sentence or the next part of it. */
  lead?: string;
  /** What it is counted in, or the rest of the sentence. */
  unit?: string;
  /** What else somebody has to know who sets it. */
  help?: string;
  /** What one of its unit is in the parameter: 0.01 for percent, 1024 for KB. */
  scale?: number;
  /** What it is set with, apart from the rule's other parameters; absent for those of the rule itself. */
  section?: 'documents';
  /** Of a choice: the words for each value. */
  choices?: Readonly<Record<string, string>>;
}

declare module 'zod' {
  // Zod's own way to give metadata a type (its documentation, "Metadata and registries").
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type
  interface GlobalMeta extends Partial<FieldMeta> {}
}

/** A parameter as a field; numbers in its own unit. */
export type Field = FieldMeta & { name: string } & (
    | { kind: 'number'; min: number; max: number; step: number }
    | { kind: 'text' }
    | { kind: 'choice' }
    /** Texts, one a line. */
    | { kind: 'lines' }
    /** Pairs of what is written and what is meant, one a line. */
    | { kind: 'pairs'; keys: readonly string[] }
  );

/** The parameters of a rule, or of anything else that people set, in the order in which they are declared. */
export function fieldsOf({ id, parameters }: { id: string; parameters: unknown }): Field[] {
  const { shape } = parameters as z.ZodObject;
  return Object.entries(shape).map(([name, schema]) => fieldOf(`${id}.${name}`, name, schema as z.ZodType));
}

/** @throws Error for a parameter that says nothing of itself, or is of a type that has no field */
function fieldOf(full: string, name: string, schema: z.ZodType): Field {
  const meta = schema.meta();
  if (!meta?.label) throw new Error(`The parameter ${full} has no label.`);
  const { label, lead, unit, help, scale, section, choices } = meta;
  const about = {
    name,
    label,
    ...(lead ? { lead } : {}),
    ...(unit ? { unit } : {}),
    ...(help ? { help } : {}),
    ...(scale ? { scale } : {}),
    ...(section ? { section } : {}),
    ...(choices ? { choices } : {}),
  };
  const own = schema instanceof z.ZodDefault ? (schema.unwrap() as z.ZodType) : schema;
  if (own instanceof z.ZodNumber) {
    const by = scale ?? 1;
    const isWhole = own.isInt || by < 1;
    return {
      ...about,
      kind: 'number',
      min: Math.ceil((own.minValue ?? 0) / by),
      max: Math.floor((own.maxValue ?? Number.MAX_SAFE_INTEGER) / by),
      ...(isWhole ? { step: 1 } : { step: 0.05, min: own.minValue ?? 0, max: own.maxValue ?? 100 }),
    };
  }
  if (own instanceof z.ZodEnum) return { ...about, kind: 'choice' };
  if (own instanceof z.ZodArray)
    return own.element instanceof z.ZodObject
      ? { ...about, kind: 'pairs', keys: Object.keys(own.element.shape as object) }
      : { ...about, kind: 'lines' };
  if (own instanceof z.ZodString) return { ...about, kind: 'text' };
  throw new Error(`The parameter ${full} is of a type that has no field.`);
}
