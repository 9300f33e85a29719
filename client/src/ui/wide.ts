import { useWindowDimensions } from 'react-native';

/** From here on the Line stands beside a list or the open part. */
export const WIDE = 1000;
/** True where the Line has room beside the page. */
export const useWide = () => useWindowDimensions().width >= WIDE;

/** From here on the Line, a list and what is opened of it stand side by side, none squeezed by the others. */
const WIDEST = 1500;
/** True where the page itself has room for two columns. */
export const useWidest = () => useWindowDimensions().width >= WIDEST;

/** Width of the Line's column on the widest screens: a good third, px. */
export const useLineShare = () => Math.min(640, Math.round(useWindowDimensions().width * 0.36));
