import { isObject, recordOf } from '../parts/objects';

/** Members of parts by their path: "settings.absorb_V". */

type Holder = Record<string, unknown>;

/** What stands at a path; undefined where there is nothing. */
export const memberAt = (holder: unknown, path: string): unknown =>
  path
    .split('.')
    .reduce<unknown>((at, step) => (at !== null && typeof at === 'object' ? (at as Holder)[step] : undefined), holder);

/** Sets what stands at a path, in place; null takes the member out. Objects on the way are made where they lack. */
export function setMember(holder: Holder, path: string, value: unknown): void {
  put(holder, path.split('.'), value);
}

function put(holder: Holder, [step = '', ...rest]: string[], value: unknown): void {
  if (rest.length === 0) {
    if (value === null) delete holder[step];
    else holder[step] = value;
    return;
  }
  const inner = holder[step];
  const target: Holder = recordOf(inner);
  put(target, rest, value);
  if (Object.keys(target).length > 0 || value !== null) holder[step] = target;
}

/** Leaves of a body by their paths, nested ones with a point. */
export function flatFields(body: object, prefix = ''): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(body).flatMap(([name, value]: [string, unknown]): [string, unknown][] =>
      isObject(value) ? Object.entries(flatFields(value, `${prefix}${name}.`)) : [[`${prefix}${name}`, value]],
    ),
  );
}
