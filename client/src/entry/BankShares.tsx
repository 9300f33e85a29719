import { createLedger, figure, sharing, type Model } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { G, Line, Rect } from 'react-native-svg';
import { useGround } from '../kit/ground';
import { Heading, T } from '../kit/text';

const COLUMN = 64;
const TALL = 150;
const BLOCK = 34;

/** Each string's share of the current, drawn on the bank: the rails as it is tapped, a column a string. */
export function BankShares({ model }: { model: Model }) {
  const { colours } = useGround();
  const { bank } = model.system;
  if (!bank || bank.parallel < 2) return null;
  const { shares, worst } = sharing(createLedger(model), bank);
  const even = 1 / bank.parallel;
  const most = Math.max(even * 1.25, ...shares);
  const last = bank.parallel - 1;
  const width = COLUMN * bank.parallel;
  return (
    <View className="gap-2 px-[18px] pt-6" testID="shares">
      <Heading level={2} look="station">
        How the strings share the current
      </Heading>
      {shares.length === 0 ? (
        <T className="text-soft">Cannot be said before tapping and links are recorded.</T>
      ) : (
        <>
          <Svg
            width={Math.min(width, 354)}
            height={TALL + 40}
            viewBox={`0 0 ${width} ${TALL + 40}`}
            role="img"
            aria-label={shares.map((share, i) => `string ${i + 1}: ${figure(100 * share)} %`).join(', ')}
          >
            <Line x1={COLUMN / 2} x2={width - COLUMN / 2} y1={10} y2={10} stroke={colours.ink} strokeWidth={4} />
            <Line
              x1={COLUMN / 2}
              x2={width - COLUMN / 2}
              y1={TALL + 30}
              y2={TALL + 30}
              stroke={colours.ink}
              strokeWidth={4}
            />
            {shares.map((share, i) => {
              const x = COLUMN * i + COLUMN / 2;
              const full = (TALL * share) / most;
              return (
                <G key={i}>
                  <Line x1={x} x2={x} y1={10} y2={TALL + 30} stroke={colours.ink} strokeWidth={2} />
                  <Rect
                    x={x - BLOCK / 2}
                    y={20}
                    width={BLOCK}
                    height={TALL}
                    fill={colours.well}
                    stroke={colours.ink}
                    strokeWidth={2}
                  />
                  <Rect x={x - BLOCK / 2} y={20 + TALL - full} width={BLOCK} height={full} fill={colours.ink} />
                </G>
              );
            })}
            <Line
              x1={4}
              x2={width - 4}
              y1={20 + TALL - (TALL * even) / most}
              y2={20 + TALL - (TALL * even) / most}
              stroke={colours.lamp}
              strokeWidth={3}
              strokeDasharray="8 6"
            />
            {bank.tapping === 'busbar' ? null : (
              <G>
                <Rect x={COLUMN / 2 - 7} y={2} width={14} height={14} fill={colours.lamp} />
                <Rect
                  x={(bank.tapping === 'same-end' ? 0 : last) * COLUMN + COLUMN / 2 - 7}
                  y={TALL + 22}
                  width={14}
                  height={14}
                  fill={colours.lamp}
                />
              </G>
            )}
          </Svg>
          <View className="flex-row" style={{ width: Math.min(width, 354) }}>
            {shares.map((share, i) => (
              <T key={i} className="flex-1 text-center font-semi">
                {`${figure(100 * share, 3)}\u00a0%`}
              </T>
            ))}
          </View>
          <T look="fact">
            Dashed: an equal share. The hardest worked string carries {figure(worst, 3)} times that.
            {bank.tapping === 'busbar' ? ' Tapped at a bus bar.' : ' Squares: where the leads are.'}
          </T>
        </>
      )}
    </View>
  );
}
