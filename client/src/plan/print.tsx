import { Button } from '../kit/controls';

/** Sends what is on the screen to paper; the style sheet for print leaves the app's own furniture out. */
export const PrintButton = ({ label = 'Print' }: { label?: string }) => (
  <Button label={label} testID="print" onPress={() => globalThis.window?.print?.()} />
);
