import { useEffect } from 'react';
import { Button } from './controls';

/** Sends what is on the screen to paper; the style sheet for print leaves the app's own furniture out. */
export const PrintButton = ({ label = 'Print' }: { label?: string }) => (
  <Button label={label} testID="print" onPress={() => globalThis.window?.print?.()} />
);

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
