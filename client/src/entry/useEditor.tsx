import type { PartRow } from '@true-lantern/core';
import { useState, type ReactNode } from 'react';
import type { FieldSpec } from '../data/fields';
import type { OpenSite } from '../data/site';
import { Editor } from './Editor';

interface UseEditor {
  site: OpenSite | null;
  row: PartRow;
  specs: readonly FieldSpec[];
  onSave(set: Record<string, unknown>, seen: PartRow): void;
  /** As in the editor: nothing is judged against the site. */
  quiet?: boolean;
  /** The field that is open from the start. */
  first?: string | null;
}

/** One field of a list open at a time: what opens it, and the editor to lay over the screen. */
export function useEditor({ site, row, specs, onSave, quiet = false, first = null }: UseEditor): {
  open(path: string): void;
  editor: ReactNode;
} {
  const [path, setPath] = useState(first);
  const spec = specs.find((other) => other.path === path);
  const editor = spec ? (
    <Editor
      key={spec.path}
      site={site}
      quiet={quiet}
      row={row}
      spec={spec}
      onSave={onSave}
      onDone={() => setPath(null)}
    />
  ) : null;
  return { open: setPath, editor };
}
