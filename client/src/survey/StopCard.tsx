import { keysOf, ABOUT_A_PART, eachPart, stopsOf } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { partName } from '../data/reading';
import { useMayWrite, usePerson } from '../data/session';
import { rowOfPart, setFields, type OpenSite } from '../data/site';
import { Button, Chip } from '../ui/controls';
import { Mark } from '../ui/mark';
import { momentText } from '../ui/dates';
import { Heading, T } from '../ui/text';

const WORDS = { 'made-safe': 'Made safe', 'left-off': 'Left off', refused: 'Customer refused' } as const;

/** What ends the visit until it is made safe; what was done about it, by whom and when. */
export function StopCard() {
  const site = useOpenSite();
  const person = usePerson();
  const mayWrite = useMayWrite();
  const row = rowOfPart(site, 'site');
  const stops = stopsOf(site.judged, site.findings);
  if (stops.length === 0 || !row) return null;
  const settle = (key: string, state: keyof typeof WORDS | null) => {
    const partId = stops.find((stop) => stop.key === key)?.partId;
    const about = partId ? { partId } : {};
    setFields(site, row, {
      [`stopCard.${key}`]: state
        ? { ...about, state, by: person.name, at: new Date().toISOString() }
        : partId
          ? about
          : null,
    });
  };
  const name = (key: string, partId: string | null) =>
    setFields(site, row, { [`stopCard.${key}`]: partId && { partId } });
  return (
    <View className="border-y-4 border-ink px-[18px] py-4" testID="stop-card" role="alert">
      <Heading level={2} look="lead">
        {stops.every(({ settled }) => settled) ? 'Stopped because' : 'Stop: make this safe before anything else'}
      </Heading>
      {stops.map(({ key, title, settled, partId }) => (
        <View key={key} className="gap-2 pt-3">
          <View className="flex-row items-center gap-3">
            <Mark verdict={settled ? 'note' : 'over'} />
            <T look="head" className="min-w-0 flex-1">
              {title}
              {partId ? `: ${partName(site, partId)}` : ''}
            </T>
          </View>
          {mayWrite && ABOUT_A_PART.includes(key) && !settled ? (
            <WhichPart site={site} chosen={partId} onChoose={(id) => name(key, id)} />
          ) : null}
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
              {keysOf(WORDS).map((state) => (
                <Button key={state} label={WORDS[state]} className="grow" onPress={() => settle(key, state)} />
              ))}
            </View>
          ) : null}
        </View>
      ))}
    </View>
  );
}

/** Which part it is: once that one is out of the system, the stop is settled by itself. */
function WhichPart({
  site,
  chosen,
  onChoose,
}: {
  site: OpenSite;
  chosen: string | null;
  onChoose(id: string | null): void;
}) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button
        label={chosen ? 'Another part' : 'Which part is it?'}
        kind="plain"
        className="self-start px-0"
        onPress={() => setOpen(true)}
      />
    );
  const parts = eachPart(site.model.system).filter(({ kind }) => kind !== 'moduleTypes' && kind !== 'states');
  return (
    <View role="radiogroup" aria-label="Which part is it?" className="flex-row flex-wrap gap-2">
      {parts.map(({ part }) => (
        <Chip
          key={part.id}
          label={partName(site, part.id)}
          on={chosen === part.id}
          onPress={() => {
            onChoose(chosen === part.id ? null : part.id);
            setOpen(false);
          }}
        />
      ))}
    </View>
  );
}
