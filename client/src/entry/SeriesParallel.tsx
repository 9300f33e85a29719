import { View } from 'react-native';
import { Chip } from '../ui/controls';
import { T } from '../ui/text';

interface SeriesParallelProps {
  what: string;
  series: number | null;
  parallel: number | null;
  onChange(series: number | null, parallel: number | null): void;
}

const COUNTS = [1, 2, 3, 4, 5, 6, 8, 10, 12, 16];

/** How many in a string and how many strings, one tap each; anything else by the field itself. */
export function SeriesParallel({ what, series, parallel, onChange }: SeriesParallelProps) {
  return (
    <View className="gap-3 px-[18px] py-3">
      <Counts label={`${what} in series`} value={series} onChange={(next) => onChange(next, parallel)} />
      <Counts label="Strings in parallel" value={parallel} onChange={(next) => onChange(series, next)} />
      {series && parallel ? (
        <T look="station" testID="total">
          {`${series} \u00d7 ${parallel} = ${series * parallel}`}
        </T>
      ) : null}
    </View>
  );
}

function Counts({ label, value, onChange }: { label: string; value: number | null; onChange(value: number): void }) {
  return (
    <View className="gap-2">
      <T>{label}</T>
      <View role="radiogroup" aria-label={label} className="flex-row flex-wrap gap-2">
        {COUNTS.map((count) => (
          <Chip
            key={count}
            label={String(count)}
            aria-label={`${label}: ${count}`}
            on={value === count}
            onPress={() => onChange(count)}
          />
        ))}
      </View>
    </View>
  );
}
