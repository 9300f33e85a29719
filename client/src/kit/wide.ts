import { useWindowDimensions } from 'react-native';

/** From here on the Line, a list and the open part stand side by side. */
export const WIDE = 1000;
export const useWide = () => useWindowDimensions().width >= WIDE;
