import { figure, type YearStory, type YearSums } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { Row } from '../ui/controls';
import { MONTHS } from '../ui/months';
import { Heading, T } from '../ui/text';
import { withUnit } from '../ui/units';
import { MonthStrip } from './Ribbon';

const kWh = (value: number) => withUnit(value, 'kWh');

/** Sun against use, month by month: drawn, and as figures for who cannot see the drawing. */
export function Months({ story, second }: { story: YearStory; second: boolean }) {
  const [open, setOpen] = useState(false);
  const { totals } = story;
  return (
    <View className="gap-2 pt-4">
      <Heading level={2} look="station" className={second ? 'text-second' : ''}>
        Month by month, an average year
      </Heading>
      <T>
        {`${kWh(totals.harvest_kWh)} of solar energy used or stored, ${kWh(totals.unused_kWh)} unused; ${kWh(totals.used_kWh)} used${totals.unserved_kWh >= 0.5 ? `, ${kWh(totals.unserved_kWh)} missing` : ''}.`}
        {totals.clipped_kWh >= 1 ? ` ${kWh(totals.clipped_kWh)} were lost at the controllers' limit.` : ''}
        {totals.generator_h >= 0.5
          ? ` The generator runs ${withUnit(totals.generator_h, 'h')} and uses ${withUnit(totals.generator_L, 'L')}.`
          : ''}
        {` A new bank cycled like this (${figure(100 * story.dailyDepth, 2)} % of its capacity a day on average) lasts about ${withUnit(story.life_y, 'years', 2)}.`}
      </T>
      <MonthStrip story={story} label="Sun and use month by month; the same figures are in the table below" />
      <Row aria-expanded={open} onPress={() => setOpen(!open)} className="-mx-[18px]">
        <T look="head" className="flex-1">
          Show figures
        </T>
        <T look="fact">{open ? 'hide' : 'show'}</T>
      </Row>
      {open ? <Figures months={story.months} dark={story.darkMonths} /> : null}
    </View>
  );
}

function Figures({ months, dark }: { months: readonly YearSums[]; dark: readonly number[] }) {
  const cells: [head: string, of: (month: YearSums, i: number) => string][] = [
    ['', (_, i) => MONTHS[i] ?? ''],
    ['sun', ({ harvest_kWh }) => harvest_kWh.toFixed(0)],
    ['unused', ({ unused_kWh }) => unused_kWh.toFixed(0)],
    ['used', ({ used_kWh }) => used_kWh.toFixed(0)],
    ['missing', ({ unserved_kWh }) => unserved_kWh.toFixed(1)],
    ['power cuts', (_, i) => `${Math.round(100 * (dark[i] ?? 0))} %`],
  ];
  const line = (texts: string[], key: string, head = false) => (
    <View key={key} role="row" className="flex-row border-b border-rule py-1">
      {texts.map((text, i) => (
        <View key={i} role={head ? 'columnheader' : 'cell'} className="flex-1">
          <T look={head ? 'small' : 'fact'} className={i === 0 ? 'text-ink' : 'text-right text-ink'}>
            {text}
          </T>
        </View>
      ))}
    </View>
  );
  return (
    <View role="table" aria-label="kWh by month">
      {line(
        cells.map(([head]) => head),
        'head',
        true,
      )}
      {months.map((month, i) =>
        line(
          cells.map(([, of]) => of(month, i)),
          String(i),
        ),
      )}
    </View>
  );
}
