import type { BlockPaperKind } from '@true-lantern/core';
import { useEffect } from 'react';
import { useUnits } from '../data/units';
import { Button } from './controls';
import { WORDS } from './words';

/** Sends what is on the screen to paper; the style sheet for print leaves the app's own furniture out. */
export const PrintButton = ({ label = WORDS.print }: { label?: string }) => (
  <Button label={label} testID="print" onPress={() => globalThis.window?.print?.()} />
);

/** Papers that the server prints. */
export type PdfKind = BlockPaperKind | 'work' | 'settings' | 'record';

/** The same paper as a PDF, made by the server: it needs a signal. */
export const PdfButton = ({ siteId, kind, about }: { siteId: string; kind: PdfKind; about: string }) => {
  const units = useUnits();
  const query = new URLSearchParams({ ...units }).toString();
  return (
    <Button
      label={kind === 'settings' ? 'Settings sheet, PDF' : WORDS.openAsPdf}
      testID={`pdf-${kind}`}
      onPress={() =>
        void globalThis.window?.open?.(
          `/api/sites/${siteId}/papers/${kind}/${encodeURIComponent(about)}?${query}`,
          '_blank',
        )
      }
    />
  );
};

/** The sheet on which the firm prints. */
export function usePaperSize(paper: string | null | undefined): void {
  useEffect(() => {
    if (!paper) return;
    const style = document.createElement('style');
    style.textContent = `@page { size: ${paper === 'letter' ? 'letter' : 'A4'}; }`;
    document.head.append(style);
    return () => style.remove();
  }, [paper]);
}
