import { nameOfRow } from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { gapsOf } from '../data/reading';
import { useMayWrite } from '../data/session';
import { Button, Row } from '../kit/controls';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { useWide } from '../kit/wide';
import { StopCard } from './StopCard';
import { SiteLine } from '../line/SiteLine';

/** On a phone the Line itself; on a wide screen, where the Line always stands beside it, what is still missing. */
export function SurveyScreen() {
  const site = useOpenSite();
  const wide = useWide();
  return (
    <ScrollView>
      <StopCard />
      {wide ? null : <SiteLine site={site} />}
      <AddButton />
      <SiteConditions />
      <Gaps />
    </ScrollView>
  );
}

function AddButton() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  if (!mayWrite) return null;
  return (
    <View className="flex-row gap-3 px-[18px] py-4">
      <Button label="Walk round" className="flex-1" onPress={() => router.navigate(`/site/${site.id}/walk`)} />
      <Button
        label="Add a part"
        kind="main"
        className="flex-1"
        onPress={() => router.navigate(`/site/${site.id}/add`)}
      />
    </View>
  );
}

/** Parts that the Line has no station for. */
const OFF_THE_LINE = ['sources', 'converters', 'monitor', 'otherBanks'] as const;

function SiteConditions() {
  const site = useOpenSite();
  const rows = [
    { id: 'site', word: 'Site conditions', fact: 'record low and high, elevation, position' },
    {
      id: 'system',
      word: 'System voltage',
      fact: site.model.system.nominal_V ? `${site.model.system.nominal_V} V` : 'not known',
    },
    ...(site.model.system.moduleTypes ?? []).map(({ id, label }) => ({
      id,
      word: label ?? id,
      fact: 'module nameplate',
    })),
    ...OFF_THE_LINE.flatMap((kind) =>
      site.rows
        .filter((row) => row.kind === kind)
        .map((row) => ({
          id: nameOfRow(row),
          word: String(row.body.label ?? row.body.role ?? KIND_WORDS[kind]),
          fact: (KIND_WORDS[kind] ?? '').toLowerCase(),
        })),
    ),
  ];
  return (
    <View className="border-t border-rule">
      {rows.map(({ id, word, fact }) => (
        <Row
          key={id}
          testID={`open-${id}`}
          onPress={() => router.navigate(`/site/${site.id}/part/${encodeURIComponent(id)}`)}
        >
          <View className="min-w-0 flex-1">
            <T look="head">{word}</T>
            <T look="fact">{fact}</T>
          </View>
        </Row>
      ))}
    </View>
  );
}

/** A new site has seen nothing yet: as many rows would bury the numbers that are missing. */
const MOST_LOOKS = 3;

function Gaps() {
  const site = useOpenSite();
  const gaps = gapsOf(site);
  const looks = gaps.filter(({ field }) => field.startsWith('observations.'));
  const folded = looks.length > MOST_LOOKS;
  const shown = folded ? gaps.filter((gap) => !looks.includes(gap)) : gaps;
  return (
    <View className="pb-8 pt-6">
      <Heading level={2} look="station" className="px-[18px] pb-1">
        {gaps.length === 0 ? 'Nothing is missing for these checks' : 'Find out first'}
      </Heading>
      {shown.map(({ path, partId, field, question, settles }) => (
        <Row
          key={path}
          onPress={() =>
            router.navigate(`/site/${site.id}/part/${encodeURIComponent(partId)}?field=${encodeURIComponent(field)}`)
          }
        >
          <Mark verdict="unknown" />
          <View className="min-w-0 flex-1">
            <T look="head">{question}</T>
            {settles > 0 ? (
              <T look="fact">{settles === 1 ? 'would settle 1 finding' : `would settle ${settles} findings`}</T>
            ) : null}
          </View>
        </Row>
      ))}
      {folded ? (
        <Row testID="looks" onPress={() => router.navigate(`/site/${site.id}/walk`)}>
          <Mark verdict="unknown" />
          <View className="min-w-0 flex-1">
            <T look="head">{looks.length} things that only eyes can tell</T>
            <T look="fact">asked one by one in the walk-round</T>
          </View>
        </Row>
      ) : null}
    </View>
  );
}
