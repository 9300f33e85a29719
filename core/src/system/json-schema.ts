import { fileSchema } from './schema';

type Json = Record<string, unknown>;
/** The parts of yup's own description that say what JSON may hold. */
interface Description {
  type: string;
  optional?: boolean;
  nullable?: boolean;
  fields?: Record<string, Description>;
  innerType?: Description;
  oneOf?: unknown[];
  tests?: { name?: string; params?: Record<string, unknown> }[];
  meta?: { record?: { describe(): unknown } };
}

/** JSON Schema (draft 2020-12) of the system file, generated from the one schema that the program itself reads by. */
export function jsonSchema(): Json {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:true-lantern:system-file:1',
    title: 'True Lantern system file',
    description:
      'Units are in the names. Absent and null mean unknown; 0 is a value. Unknown members are kept. Ids are unique in the file.',
    ...convert(fileSchema.describe() as unknown as Description),
  };
}

function convert(description: Description): Json {
  const { type, fields, innerType, tests = [], oneOf = [], meta, nullable } = description;
  const schema: Json = {};
  if (meta?.record) {
    schema.type = 'object';
    schema.additionalProperties = convert(meta.record.describe() as Description);
  } else if (fields) {
    schema.type = 'object';
    schema.properties = Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, convert(field)]));
    const required = Object.entries(fields).flatMap(([name, field]) => (isRequired(field) ? [name] : []));
    if (required.length > 0) schema.required = required;
  } else if (innerType) {
    schema.type = 'array';
    schema.items = convert(innerType);
  } else if (type !== 'mixed') schema.type = type;
  for (const { name, params = {} } of tests) limit(schema, type, name, params);
  const values = oneOf.filter((value) => value !== null);
  if (values.length > 0) schema.enum = nullable ? [...values, null] : values;
  if (nullable && typeof schema.type === 'string') schema.type = [schema.type, 'null'];
  return schema;
}

/** A nested part with required members of its own is required only where it was not made optional. */
const isRequired = ({ optional, nullable, type, fields }: Description) =>
  !optional && !nullable && (type !== 'object' || Object.values(fields ?? {}).some((field) => !field.optional));

function limit(schema: Json, type: string, name: string | undefined, params: Record<string, unknown>) {
  const suffix = type === 'array' ? 'Items' : type === 'string' ? 'Length' : 'imum';
  // yup calls both kinds of bound min and max; an exclusive one carries "more".
  if (name === 'min' && 'more' in params) schema.exclusiveMinimum = params.more;
  else if (name === 'min') schema[`min${suffix}`] = params.min;
  else if (name === 'max') schema[`max${suffix}`] = params.max;
  else if (name === 'length') Object.assign(schema, { minItems: params.length, maxItems: params.length });
  else if (name === 'integer') schema.type = 'integer';
  else if (name === 'matches' && params.regex instanceof RegExp) schema.pattern = params.regex.source;
}
