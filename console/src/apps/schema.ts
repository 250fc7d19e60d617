/** One thing an app can be told, as its schema has it. */
export interface Field {
  name: string;
  title: string;
  help?: string;
  kind: 'text' | 'whole' | 'number' | 'flag' | 'choice' | 'other';
  choices: string[];
  required: boolean;
  /** Whether it is sealed and never shown again. */
  secret: boolean;
  schema: Record<string, unknown>;
}

const record = (v: unknown): Record<string, unknown> =>
  v !== null && typeof v === 'object' && !Array.isArray(v) ? (v as Record<string, unknown>) : {};

const KINDS: Record<string, Field['kind']> = {
  string: 'text',
  integer: 'whole',
  number: 'number',
  boolean: 'flag',
};

/**
 * The fields of a form for a schema (JSON Schema 2020-12), those that have to be said first; what a form cannot draw is
 * of the kind other.
 */
export function fieldsOf(schema: Record<string, unknown>): Field[] {
  const required = Array.isArray(schema.required) ? schema.required : [];
  return Object.entries(record(schema.properties))
    .map(([name, of]) => {
      const s = record(of);
      const choices = Array.isArray(s.enum) && s.enum.every((c) => typeof c === 'string') ? s.enum : [];
      return {
        name,
        title: typeof s.title === 'string' ? s.title : name,
        help: typeof s.description === 'string' ? s.description : undefined,
        kind: choices.length > 0 ? 'choice' : (KINDS[String(s.type)] ?? 'other'),
        choices: choices as string[],
        required: required.includes(name),
        secret: s.writeOnly === true || s.format === 'password',
        schema: s,
      };
    })
    .sort((a, b) => Number(b.required) - Number(a.required));
}

/** A JSON object out of a setting's text; none where it is none. */
export function told(text: unknown): Record<string, unknown> | undefined {
  if (typeof text !== 'string' || text === '') {
    return {};
  }
  try {
    const read = JSON.parse(text) as unknown;
    return read !== null && typeof read === 'object' && !Array.isArray(read) ? record(read) : undefined;
  } catch {
    return undefined;
  }
}

/** The text of a setting with one thing said otherwise; without it where nothing is said. */
export function saying(text: unknown, name: string, value: unknown): string | undefined {
  const said = { ...told(text) };
  if (value === undefined || value === '') {
    delete said[name];
  } else {
    said[name] = value;
  }
  return Object.keys(said).length > 0 ? JSON.stringify(said) : undefined;
}
