import type { Site } from '@true-lantern/core';
import { View } from 'react-native';
import { Button } from '../ui/controls';
import { Stepper } from '../ui/stepper';
import { T } from '../ui/text';

type Horizon = NonNullable<Site['horizon']>;

const WAYS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'];
const STEP_DEG = 45;

/** How high the horizon stands in each of eight directions; a fist at arm's length is about ten degrees. */
export function HorizonEntry({ value, onChange }: { value: Horizon; onChange(horizon: Horizon): void }) {
  const at = (azimuth: number) => value.find(({ azimuth_deg }) => azimuth_deg === azimuth)?.elevation_deg ?? 0;
  // Points between the eight directions come from a file: they stay as they are.
  const between = value.filter(({ azimuth_deg }) => azimuth_deg % STEP_DEG !== 0);
  const put = (azimuth: number, elevation_deg: number) =>
    onChange(
      [
        ...between,
        ...WAYS.map((_, i) => ({
          azimuth_deg: i * STEP_DEG,
          elevation_deg: i * STEP_DEG === azimuth ? elevation_deg : at(i * STEP_DEG),
        })),
      ].sort((a, b) => a.azimuth_deg - b.azimuth_deg),
    );
  return (
    <View className="gap-2">
      <T look="fact">{'Degrees above the horizontal. A fist at arm\u2019s length is about 10\u00b0.'}</T>
      {WAYS.map((way, i) => (
        <Stepper
          key={way}
          label={`${way}, ${at(i * STEP_DEG)}\u00b0`}
          value={at(i * STEP_DEG)}
          min={0}
          max={90}
          step={5}
          onChange={(next) => put(i * STEP_DEG, next)}
        />
      ))}
      {between.length > 0 ? <T look="fact">{between.length} points between these stay as they are.</T> : null}
      <Button label="Nothing is in the way" onPress={() => onChange([])} />
    </View>
  );
}
