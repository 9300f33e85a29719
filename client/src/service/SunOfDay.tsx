import { heard_Ah, round } from '@true-lantern/core';
import type { LiveAnswerOfSite } from '@true-lantern/wire';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useToday } from '../data/today';
import { T } from '../ui/text';
import { useAnswer } from '../workers/engine';

interface Props {
  /** The last 24 hours. */
  data: LiveAnswerOfSite;
}

/** What the sun brought in the last 24 hours, beside what the year brings around this date. */
export function SunOfDay({ data }: Props) {
  const site = useOpenSite();
  const brought_Ah = heard_Ah(site.judged, data.series, data.step_s);
  if (brought_Ah === null) return null;
  return (
    <View className="border-b border-rule px-[18px] py-3" testID="live-sun">
      <T look="head">{`${amps(brought_Ah)} from the sun in the last 24 hours`}</T>
      <BesideYear brought_Ah={brought_Ah} />
    </View>
  );
}

const amps = (value: number) => `${round(value)}\u00a0Ah`;

/** Nothing where the site does not say enough for a year. */
function BesideYear({ brought_Ah }: { brought_Ah: number }) {
  const site = useOpenSite();
  const on = useToday();
  const { data } = useAnswer<'sunDays'>({ ask: 'sunDays', model: site.judged, on });
  if (!data) return null;
  // Beyond what the year holds only downwards: more than expected harms nobody.
  const rare =
    brought_Ah < data.low_Ah ? ' So little is rare, unless the bank is full: heavy cloud, snow, shade or a fault.' : '';
  return (
    <T look="fact">{`Around this date, 9 days in 10 bring ${amps(data.low_Ah)} to ${amps(data.high_Ah)}.${rare}`}</T>
  );
}
