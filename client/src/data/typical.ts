import { isPartKind, typicalOf, type PartRow } from '@true-lantern/core';

/** A draft with its kind's typical values where nothing was read, each marked as assumed so that it shows. */
export function typicalRow(draft: PartRow): PartRow {
  if (!isPartKind(draft.kind)) return draft;
  const typical = typicalOf(draft.kind);
  return {
    ...draft,
    body: { ...typical, ...draft.body },
    evidence: Object.fromEntries(
      Object.keys(typical)
        .filter((field) => !(field in draft.body))
        .map((field) => [field, { grade: 'assumed' as const }]),
    ),
  };
}
