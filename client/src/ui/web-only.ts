import type { GestureResponderEvent, ViewStyle } from 'react-native';

/** What the web can do and the platform's types do not know: told to the compiler in this one place. */

interface WebStyle {
  /** Which gestures the browser keeps for itself: none where a finger draws. */
  touchAction?: string;
  cursor?: string;
}

/** A style with what only the web has. */
export const webStyle = (style: Omit<ViewStyle, keyof WebStyle> & WebStyle): ViewStyle => style as ViewStyle;

/** Where on the page the thing lies that hears a touch, px. */
export const boxOf = ({ currentTarget }: GestureResponderEvent): DOMRect =>
  (currentTarget as unknown as Element).getBoundingClientRect();
