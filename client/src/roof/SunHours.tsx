import type { RoofAnswer, RoofSun } from '@true-lantern/core';
import { View } from 'react-native';
import { Chip } from '../ui/controls';
import { Stepper } from '../ui/stepper';
import { T } from '../ui/text';

const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');

interface Props {
  month: number;
  /** Null: no shadow is shown. */
  hour: number | null;
  heading: number;
  /** True where nobody said which way the roof points: it can be turned to try. */
  turning: boolean;
  sun: RoofSun | null;
  heat: boolean;
  heatPossible: boolean;
  answer: RoofAnswer | null;
  onMonth(month: number): void;
  onHour(hour: number | null): void;
  onHeading(deg: number): void;
  onHeat(on: boolean): void;
}

/** The hour and the month by thumb, the shadow moving with them; or the light of the whole year. */
export function SunHours(props: Props) {
  const { month, hour, heading, turning, sun, heat, heatPossible, onMonth, onHour, onHeading, onHeat } = props;
  return (
    <View className="gap-2 px-[18px] pt-2">
      <View role="group" aria-label="What the drawing shows" className="flex-row flex-wrap gap-2">
        <Chip label="Shadows" on={hour !== null} onPress={() => onHour(hour === null ? 12 : null)} />
        {heatPossible ? <Chip label="Light of the year" on={heat} onPress={() => onHeat(!heat)} /> : null}
      </View>
      {hour === null ? null : (
        <>
          <Stepper label="Hour of the sun" value={hour} min={0} max={23} onChange={onHour} />
          <Stepper
            label={`Month: ${MONTHS[month] ?? ''}`}
            value={month + 1}
            min={1}
            max={12}
            onChange={(to) => onMonth(to - 1)}
          />
          {turning ? (
            <Stepper label="Ahead points to" value={heading} min={0} max={315} step={45} onChange={onHeading} />
          ) : null}
          <T look="fact" aria-live="polite" testID="roof-sun">
            {sun === null
              ? 'The shadow needs the latitude and the climate of the site.'
              : sun.sunny
                ? `The sun is ${Math.round(sun.elevation_deg)} degrees high.`
                : sun.elevation_deg > 0
                  ? 'The sun is too low, behind the roof or behind the horizon.'
                  : 'The sun is down.'}
          </T>
        </>
      )}
    </View>
  );
}
