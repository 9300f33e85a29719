import { Text, type TextProps } from 'react-native';

type Look = 'lead' | 'station' | 'head' | 'base' | 'fact' | 'small' | 'figure' | 'pad' | 'mono';

const LOOKS: Record<Look, string> = {
  lead: 'font-semi text-lead text-ink',
  station: 'font-bold text-station text-ink',
  head: 'font-bold text-base text-ink',
  base: 'font-sans text-base text-ink',
  fact: 'font-sans text-fact text-soft',
  small: 'font-sans text-small text-soft',
  figure: 'font-semi text-figure text-ink',
  pad: 'font-semi text-pad text-ink',
  mono: 'font-mono text-fact text-ink',
};

/** All text of the app: one of a few looks, figures always tabular. */
export function T({ look = 'base', className = '', style, ...rest }: TextProps & { look?: Look }) {
  return <Text className={`${LOOKS[look]} ${className}`} style={[{ fontVariant: ['tabular-nums'] }, style]} {...rest} />;
}

/** A heading that screen readers can jump to. */
export function Heading({ level = 1, ...rest }: Parameters<typeof T>[0] & { level?: 1 | 2 | 3 }) {
  return <T role="heading" aria-level={level} {...rest} />;
}
