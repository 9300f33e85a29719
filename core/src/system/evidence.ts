/** What evidence, readings and missing inputs may speak of besides parts. */
const PLACES = new Set(['site', 'system', 'schools']);

/** A path of evidence as its part and field. */
export interface SplitPath {
  partId: string;
  field: string;
}

/**
 * A path of evidence, "componentId.field", in its two halves; null where no part of that name is known. Ids may hold
 * points themselves, so the longest that is known wins: `inv.2.idle_W` is of `inv.2` where there is one, else of `inv`.
 */
export function splitPath(path: string, known: (id: string) => boolean): SplitPath | null {
  for (let at = path.lastIndexOf('.', path.length - 2); at > 0; at = path.lastIndexOf('.', at - 1)) {
    const partId = path.slice(0, at);
    if (PLACES.has(partId) || known(partId)) return { partId, field: path.slice(at + 1) };
  }
  return null;
}
