import { createLedger, figure, sharing, type Bank, type Model } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { G, Line, Rect } from 'react-native-svg';
import { useGround } from '../ui/ground';
import { Heading, T } from '../ui/text';
import { sizeText, withUnit } from '../ui/units';
import { BLOCK, sharesLayout, TAP } from './shares-layout';

/** The sheet's own width on a phone. */
const MOST_WIDE = 354;

/** Each string's share of the current, drawn on the bank: the rails as it is tapped, a column a string. */
export function BankShares({ model }: { model: Model }) {
  const { bank } = model.system;
  if (!bank || bank.parallel < 2) return null;
  const { shares, worst } = sharing(createLedger(model), bank);
  const layout = shares.length > 0 ? sharesLayout(shares, bank.tapping, bank.series) : null;
  const shownWidth = Math.min(layout?.width ?? 0, MOST_WIDE);
  return (
    <View className="gap-2 px-[18px] pt-6" testID="shares">
      <Heading level={2} look="station">
        How the strings share the current
      </Heading>
      {layout === null ? (
        <T className="text-soft">Record the links and where the leads connect first.</T>
      ) : (
        <>
          <SharesDrawing layout={layout} width={shownWidth} shares={shares} />
          <View className="flex-row" style={{ width: shownWidth }}>
            {shares.map((share, i) => (
              <T key={i} className="flex-1 text-center font-semi">
                {`${figure(100 * share, 3)}\u00a0%`}
              </T>
            ))}
          </View>
          <T look="fact">
            Dashed: an equal share. The hardest worked string carries {figure(worst, 3)} times that.
            {bank.tapping === 'busbar' ? ' Tapped at a bus bar.' : ' Squares: where the leads are.'}
            {linkWords(bank)}
          </T>
        </>
      )}
    </View>
  );
}

type SharesLayout = ReturnType<typeof sharesLayout>;

/** The bank from above: rails, a column a string, a dashed line where each carries as much as the others. */
function SharesDrawing({ layout, width, shares }: { layout: SharesLayout; width: number; shares: readonly number[] }) {
  const { colours } = useGround();
  return (
    <Svg
      width={width}
      height={layout.height}
      viewBox={`0 0 ${layout.width} ${layout.height}`}
      role="img"
      aria-label={shares.map((share, i) => `string ${i + 1}: ${figure(100 * share)} %`).join(', ')}
    >
      {[layout.rails.plus, layout.rails.minus].map((y) => (
        <Line key={y} x1={layout.rails.x1} x2={layout.rails.x2} y1={y} y2={y} stroke={colours.ink} strokeWidth={4} />
      ))}
      {layout.strings.map((string) => (
        <StringColumn key={string.x} string={string} rails={layout.rails} />
      ))}
      <Line
        x1={4}
        x2={layout.width - 4}
        y1={layout.even}
        y2={layout.even}
        stroke={colours.lamp}
        strokeWidth={3}
        strokeDasharray="8 6"
      />
      {layout.taps.map(({ x, y }) => (
        <Rect key={`${x} ${y}`} x={x} y={y} width={TAP} height={TAP} fill={colours.lamp} />
      ))}
    </Svg>
  );
}

interface StringColumnProps {
  string: SharesLayout['strings'][number];
  rails: SharesLayout['rails'];
}

/** A string of blocks with its bar of current laid over them. */
function StringColumn({ string: { x, left, fillTop, fill, blocks }, rails }: StringColumnProps) {
  const { colours } = useGround();
  return (
    <G>
      <Line x1={x} x2={x} y1={rails.plus} y2={rails.minus} stroke={colours.ink} strokeWidth={2} />
      {blocks.map((block) => (
        <G key={block.top}>
          <Rect x={left} y={block.top} width={BLOCK} height={block.tall} fill={colours.well} />
          {/* What of the string's bar lies within this block. */}
          <Rect
            x={left}
            y={Math.max(block.top, fillTop)}
            width={BLOCK}
            height={Math.max(0, Math.min(block.top + block.tall, fillTop + fill) - Math.max(block.top, fillTop))}
            fill={colours.ink}
          />
          <Rect
            x={left}
            y={block.top}
            width={BLOCK}
            height={block.tall}
            fill="none"
            stroke={colours.ink}
            strokeWidth={2}
          />
        </G>
      ))}
    </G>
  );
}

/** "Links between blocks: 35 mm2, 0.3 m." where they were recorded. */
function linkWords({ series, link }: Pick<Bank, 'series' | 'link'>): string {
  if (series < 2 || !link?.size) return '';
  return ` Links between blocks: ${sizeText(link.size)}${link.length_m ? `, ${withUnit(link.length_m, 'm')}` : ''}.`;
}
