import { router } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { readPreference, writePreference } from '../data/preferences';
import { rowOfPart, setFields } from '../data/site';
import { nameOfRow } from '@true-lantern/core';
import { walkOf } from '../data/walk';
import { Entry } from '../entry/Editor';
import { Button } from '../ui/controls';
import { useAwake } from '../ui/awake';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { Attachments } from '../entry/Attachments';

/** One question at a time from the sun down. What is put off comes again at the end; leaving and coming back goes on. */
export function WalkScreen() {
  const site = useOpenSite();
  const [skipped, setSkipped] = useState<string[]>(() => readPreference('skipped')?.[site.id] ?? []);
  useAwake();
  useEffect(() => writePreference('skipped', { ...readPreference('skipped'), [site.id]: skipped }), [site.id, skipped]);
  const steps = useMemo(() => walkOf(site), [site]);
  const open = steps.filter(({ key }) => !skipped.includes(key));
  const step = open[0] ?? null;
  const skip = () => step && setSkipped((keys) => [...keys, step.key]);
  const putOff = steps.length - open.length;
  return (
    <View className="flex-1">
      <Top title="Walk-round" back="Stop here" onBack={() => router.navigate(`/site/${site.id}`)} />
      <ScrollView>
        <View className="max-w-[640px] gap-4 px-[18px] pb-8 pt-4">
          <T look="fact" role="status" testID="left">
            {open.length === 0
              ? 'No questions left'
              : open.length === 1
                ? '1 question left'
                : `${open.length} questions left`}
            {putOff > 0 ? `, ${putOff} put off` : ''}
          </T>
          {step === null ? (
            <>
              <Heading level={2} look="lead">
                {putOff === 0
                  ? 'Everything the checks need is recorded.'
                  : 'Done for now; some questions were skipped.'}
              </Heading>
              {putOff > 0 ? <Button label="Ask skipped questions again" onPress={() => setSkipped([])} /> : null}
              <Button label="See the check" kind="main" onPress={() => router.navigate(`/site/${site.id}/check`)} />
            </>
          ) : step.type === 'part' ? (
            <>
              <Heading level={2} look="lead">
                {step.question}
              </Heading>
              <Button
                label={
                  step.kind === 'roofs'
                    ? 'Measure the roof'
                    : `Add ${(KIND_WORDS[step.kind] ?? step.kind).toLowerCase()}`
                }
                kind="main"
                className="min-h-[64px]"
                onPress={() =>
                  router.navigate(
                    step.kind === 'roofs' ? `/site/${site.id}/roof` : `/site/${site.id}/add?kind=${step.kind}`,
                  )
                }
              />
              <Button label="Skip (none here, or later)" className="min-h-[64px]" onPress={skip} />
            </>
          ) : (
            <>
              <Heading level={2} look="lead">
                {step.question}
              </Heading>
              <Entry
                key={step.key}
                site={site}
                row={rowOfPart(site, nameOfRow(step.row)) ?? step.row}
                spec={step.spec}
                atOnce
                onSave={(set) => setFields(site, step.row, set)}
                onSkip={skip}
                onDone={() => undefined}
              />
              <Button label="Ask me later" kind="plain" onPress={skip} />
              {step.row.kind === 'site' ? null : <Attachments subject={nameOfRow(step.row)} />}
            </>
          )}
        </View>
      </ScrollView>
    </View>
  );
}
