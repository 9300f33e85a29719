import type { Fault } from './faults';

/** What no database, sheet or other program could keep, whatever the schema says of it: asked before anything else. */

const MOST_NESTING = 64;
const MOST_ITEMS = 5000;
/** A note is a page or two; a picture is an attachment. */
const MOST_LETTERS = 100_000;
const MOST_LETTERS_OF_NAME = 200;
/** Members of one object: evidence for every field of the largest site has fewer. */
const MOST_MEMBERS = 20_000;
/** Names that a program would take for its own. */
const FORBIDDEN = new Set(['__proto__', 'prototype', 'constructor']);

// Half of a pair of UTF-16: no text in any encoding.
const LONE_SURROGATE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/;

/** What is wrong with a text that cannot be kept as it is; null where nothing is. */
export function textFault(text: string): string | null {
  if (text.includes('\0')) return 'holds a NUL character, expected readable text';
  if (LONE_SURROGATE.test(text)) return 'holds half a character, expected readable text';
  if (text.length > MOST_LETTERS) return `has ${text.length} letters, expected ${MOST_LETTERS} at most`;
  return null;
}

interface Step {
  value: object;
  path: string;
  depth: number;
}

/**
 * Faults in the size, depth, texts and numbers of a parsed JSON value: lists of at most 5,000 items together, 64 levels,
 * texts that can be kept, numbers that are finite (JSON's 1e999 is not).
 * @param root what the whole is called where it is itself at fault
 */
export function boundFaults(value: object, root = 'file'): Fault[] {
  let items = 0;
  let longest = { path: root, count: 0 };
  const pending: Step[] = [{ value, path: '', depth: 1 }];
  for (let step = pending.pop(); step; step = pending.pop()) {
    const { value: holder, path, depth } = step;
    if (depth > MOST_NESTING)
      return [
        {
          path: head(path) || root,
          message: `is nested deeper than ${MOST_NESTING}, expected ${MOST_NESTING} levels at most`,
        },
      ];
    if (Array.isArray(holder)) {
      items += holder.length;
      if (holder.length > longest.count) longest = { path: path || root, count: holder.length };
      // Not walked to its end when it is too long already.
      if (items > MOST_ITEMS) break;
    }
    const members = Object.entries(holder) as [string, unknown][];
    if (!Array.isArray(holder) && members.length > MOST_MEMBERS)
      return [{ path: path || root, message: `has ${members.length} members, expected at most 20,000` }];
    for (const [name, member] of members) {
      const at = Array.isArray(holder) ? `${path}[${name}]` : path ? `${path}.${name}` : name;
      const fault = Array.isArray(holder) ? null : nameFault(name);
      if (fault) return [{ path: path || root, message: fault }];
      if (typeof member === 'string') {
        const message = textFault(member);
        if (message) return [{ path: at, message }];
      } else if (typeof member === 'number' && !Number.isFinite(member))
        return [{ path: at, message: `is ${member}, expected a finite number` }];
      else if (member !== null && typeof member === 'object')
        pending.push({ value: member, path: at, depth: depth + 1 });
    }
  }
  return items > MOST_ITEMS
    ? [{ path: longest.path, message: `has ${longest.count} items, expected at most 5,000 in all lists together` }]
    : [];
}

function nameFault(name: string): string | null {
  if (FORBIDDEN.has(name)) return `has a member called "${name}", expected another name`;
  if (name.length > MOST_LETTERS_OF_NAME)
    return `has a member whose name has ${name.length} letters, expected ${MOST_LETTERS_OF_NAME} at most`;
  const message = textFault(name);
  return message ? `has a member whose name ${message}` : null;
}

/** The first two names of a path: the rest of a deep one helps nobody. */
const head = (path: string) => path.split('.').slice(0, 2).join('.').replace(/\[.*$/, '');
