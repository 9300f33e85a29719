import { stopsOf } from '@true-lantern/core';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite, usePerson } from '../data/session';
import { rowOfPart, setFields } from '../data/site';
import { Button } from '../kit/controls';
import { Mark } from '../kit/mark';
import { momentText } from '../kit/dates';
import { Heading, T } from '../kit/text';

const WORDS = { 'made-safe': 'Made safe', 'left-off': 'Left off', refused: 'Customer refused' } as const;

/** What ends the visit until it is made safe; what was done about it, by whom and when. */
export function StopCard() {
  const site = useOpenSite();
  const person = usePerson();
  const mayWrite = useMayWrite();
  const row = rowOfPart(site, 'site');
  const stops = stopsOf(site.file.site);
  if (stops.length === 0 || !row) return null;
  const settle = (key: string, state: keyof typeof WORDS | null) =>
    setFields(site, row, {
      [`stopCard.${key}`]: state && { state, by: person.name, at: new Date().toISOString() },
    });
  return (
    <View className="border-y-4 border-ink px-[18px] py-4" testID="stop-card" role="alert">
      <Heading level={2} look="lead">
        {stops.every(({ settled }) => settled) ? 'Stopped for' : 'Stop: make this safe before anything else'}
      </Heading>
      {stops.map(({ key, title, settled }) => (
        <View key={key} className="gap-2 pt-3">
          <View className="flex-row items-center gap-3">
            <Mark verdict={settled ? 'note' : 'over'} />
            <T look="head" className="min-w-0 flex-1">
              {title}
            </T>
          </View>
          {settled?.state ? (
            <View className="flex-row items-center gap-3">
              <T className="min-w-0 flex-1">
                {WORDS[settled.state]}, {settled.by ?? ''}
                {settled.at ? `, ${momentText(settled.at)}` : ''}
              </T>
              {mayWrite ? <Button label="Not so" kind="plain" onPress={() => settle(key, null)} /> : null}
            </View>
          ) : mayWrite ? (
            <View className="flex-row flex-wrap gap-2">
              {(Object.keys(WORDS) as (keyof typeof WORDS)[]).map((state) => (
                <Button key={state} label={WORDS[state]} className="grow" onPress={() => settle(key, state)} />
              ))}
            </View>
          ) : null}
        </View>
      ))}
    </View>
  );
}
