import { StyleSheet, Text, type TextProps, type TextStyle } from 'react-native';

type Look = 'lead' | 'station' | 'head' | 'base' | 'fact' | 'small' | 'figure' | 'pad' | 'mono' | 'result';

const LOOKS: Record<Look, { size: string; font: string; colour: string }> = {
  lead: { size: 'text-lead', font: 'font-semi', colour: 'text-ink' },
  station: { size: 'text-station', font: 'font-bold', colour: 'text-ink' },
  head: { size: 'text-base', font: 'font-bold', colour: 'text-ink' },
  base: { size: 'text-base', font: 'font-sans', colour: 'text-ink' },
  fact: { size: 'text-fact', font: 'font-sans', colour: 'text-soft' },
  small: { size: 'text-small', font: 'font-sans', colour: 'text-soft' },
  figure: { size: 'text-figure', font: 'font-semi', colour: 'text-ink' },
  pad: { size: 'text-pad', font: 'font-semi', colour: 'text-ink' },
  /** The last line of a working. */
  result: { size: 'text-fact', font: 'font-monoBold', colour: 'text-ink' },
  mono: { size: 'text-fact', font: 'font-mono', colour: 'text-ink' },
};
const TABULAR: TextStyle = { fontVariant: ['tabular-nums'] };
const COLOUR = /(^|\s)text-(paper|ink|soft|lamp|second)(\s|$)/;
const FONT = /(^|\s)font-(sans|semi|bold|mono)(\s|$)/;

/** All text of the app: one of a few looks, figures always tabular. */
export function T({ look = 'base', className = '', style, ...rest }: TextProps & { look?: Look }) {
  const { size, font, colour } = LOOKS[look];
  // Of two classes for one property the style sheet's order would decide, not ours: so only one is ever given.
  const classes = [size, FONT.test(className) ? '' : font, COLOUR.test(className) ? '' : colour, className].join(' ');
  // One flat style, never a list: the class names are pushed into a list, and one that is kept from the render before would
  // carry the last colour along (a chip that was let go stayed white on white).
  return <Text className={classes} style={StyleSheet.flatten([TABULAR, style])} {...rest} />;
}

/** A heading that screen readers can jump to. */
export function Heading({ level = 1, ...rest }: Parameters<typeof T>[0] & { level?: 1 | 2 | 3 }) {
  return <T role="heading" aria-level={level} {...rest} />;
}
