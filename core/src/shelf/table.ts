import { FaultError, MOST_FAULTS, type Fault } from '../system/faults';
import { flatFields, setMember } from '../system/members';
import { bodySchema, checkShelfItem, isShelfKind, SHELF_KINDS, type ShelfItem } from './item';

/** The shelf as a table, for a spreadsheet: a line an item, a column a field, nested fields with a point. */

/** The item's own columns; `part` is its kind, since many parts have a field called kind. */
const HEAD = ['part', 'label', 'price', 'currency', 'note'] as const;

/** The shelf as rows of a table, its head first. */
export function shelfTable(items: readonly ShelfItem[]): string[][] {
  const flat = items.map(({ body }) => flatFields(body));
  const columns = [...new Set(flat.flatMap((fields) => Object.keys(fields)))];
  const cell = (value: unknown) =>
    value == null ? '' : harmless(Array.isArray(value) ? value.join(' ') : String(value));
  return [
    [...HEAD, ...columns.map(harmless)],
    ...items.map((item, i) => [
      ...HEAD.map((name) => cell(item[name === 'part' ? 'kind' : name])),
      ...columns.map((name) => cell(flat[i]?.[name])),
    ]),
  ];
}

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
/**
 * A text that a spreadsheet would take for a formula (OWASP, CSV injection) gets an apostrophe before it, which the
 * program shows as text; a number stays one. `asWritten` takes it off again.
 */
export const harmless = (text: string) => (/^'*[=+\-@\t\r]/.test(text) && !NUMBER.test(text) ? `'${text}` : text);
const asWritten = (text: string) => (/^'+[=+\-@\t\r]/.test(text) ? text.slice(1) : text);

/**
 * The items of a table whose first line names the columns. `commaDecimals` where the columns were parted by
 * semicolons, as programs do whose decimals are written with a comma.
 * @throws FaultError by line and column; nothing is taken by halves
 */
export function itemsOfTable(table: readonly (readonly string[])[], commaDecimals = false): ShelfItem[] {
  const [header = [], ...lines] = table.map((line) => line.map((text) => asWritten(text.trim())));
  const lacking = ['part', 'label'].filter((name) => !header.includes(name));
  if (lacking.length > 0)
    throw new FaultError([
      {
        path: 'line 1',
        message: `has no column ${lacking.map((name) => `"${name}"`).join(' and ')}, expected the first line to name the columns: part, label, price, voc_V ...`,
      },
    ]);
  const faults: Fault[] = [];
  const items = lines.flatMap((line, i): ShelfItem[] => {
    if (line.every((text) => text === '')) return [];
    try {
      return [itemOf(header, line, commaDecimals)];
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      faults.push(
        ...error.faults.map(({ path, message }) => ({
          path: `line ${i + 2}, ${path.replace(/^body\./, '')}`,
          message,
        })),
      );
      return [];
    }
  });
  if (faults.length > 0) throw new FaultError(faults.slice(0, MOST_FAULTS));
  return items;
}

function itemOf(header: readonly string[], line: readonly string[], commaDecimals: boolean): ShelfItem {
  const at = (name: string) => line[header.indexOf(name)] ?? '';
  const kind = at('part');
  if (!isShelfKind(kind))
    throw new FaultError([{ path: 'part', message: `is "${kind}", expected one of ${SHELF_KINDS.join(', ')}` }]);
  const fields = bodySchema(kind).describe().fields as Record<string, Described>;
  const body: Record<string, unknown> = {};
  const faults: Fault[] = [];
  header.forEach((name, column) => {
    const text = line[column] ?? '';
    if (text === '' || (HEAD as readonly string[]).includes(name)) return;
    const type = typeAt(fields, name.split('.'));
    if (!type) faults.push({ path: name, message: `is no field of ${kind}, expected a name of the system file` });
    else setMember(body, name, typed(type, name, text, commaDecimals, faults));
  });
  const price = at('price') === '' ? null : typed('number', 'price', at('price'), commaDecimals, faults);
  if (faults.length > 0) throw new FaultError(faults);
  const more = (name: 'currency' | 'note') => (at(name) === '' ? {} : { [name]: at(name) });
  return checkShelfItem({ kind, label: at('label'), price, ...more('currency'), ...more('note'), body });
}

interface Described {
  type: string;
  fields?: Record<string, Described>;
}

function typeAt(fields: Record<string, Described> | undefined, [step = '', ...rest]: string[]): string | undefined {
  const field = fields && Object.hasOwn(fields, step) ? fields[step] : undefined;
  return rest.length === 0 ? (field && !field.fields ? field.type : undefined) : typeAt(field?.fields, rest);
}

function typed(type: string, path: string, text: string, commaDecimals: boolean, faults: Fault[]): unknown {
  if (type === 'array') return text.split(/[\s;]+/);
  if (type === 'boolean') {
    const known = { true: true, yes: true, false: false, no: false }[text.toLowerCase()];
    if (known === undefined) faults.push({ path, message: `is "${text}", expected true or false` });
    return known;
  }
  if (type !== 'number') return text;
  // "1,200" may be 1200 or 1.2: never guessed.
  const plain = commaDecimals && /^-?\d+,\d+$/.test(text) && !/,\d{3}$/.test(text) ? text.replace(',', '.') : text;
  if (!/^-?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(plain)) {
    const comma = /^-?\d+,\d+$/.test(text);
    faults.push({
      path,
      message: `is "${text}", expected a number${comma ? ` with a decimal point (${text.replace(',', '.')})` : ''}`,
    });
  }
  return Number(plain);
}
