import { acceptancePlan, capacityPlan, expectedTests } from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useRunning } from '../data/clock';
import { useOpenSite } from '../data/open-site';
import { Row } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { AcceptanceTest, CapacityTest } from './ClockTest';
import { Round, ROUNDS, type RoundKind } from './Round';

type Kind = 'capacity' | 'acceptance' | RoundKind;

/** Tests that take several readings: by the clock, or one part after the other under the same conditions. */
export function GuidedScreen() {
  const site = useOpenSite();
  const { test } = useLocalSearchParams<{ test?: string }>();
  const [kind, setKind] = useState<Kind | null>(test === 'capacity' ? test : null);
  const running = {
    capacity: useRunning(site.id, 'capacity') !== null,
    acceptance: useRunning(site.id, 'acceptance') !== null,
  };
  const can = useMemo(() => {
    const { tests } = expectedTests(site.model, {}, (one) => ROUNDS.drops.takes(one) || ROUNDS.strings.takes(one));
    return {
      capacity: !('missing' in capacityPlan(site.model)),
      acceptance: !('missing' in acceptancePlan(site.model)),
      drops: tests.some(({ quantity }) => ROUNDS.drops.takes(quantity)),
      strings: tests.filter(({ quantity }) => ROUNDS.strings.takes(quantity)).length > 1,
    };
  }, [site.model]);
  const all: readonly (readonly [Kind, string, string, string])[] = [
    [
      'capacity',
      'Capacity test',
      'Discharges the full bank to its end voltage. Half a day or more.',
      'The bank’s cells or capacity are not recorded.',
    ],
    [
      'acceptance',
      'Charge acceptance',
      'How long the bank takes current at the absorption voltage.',
      'The bank’s cells or capacity are not recorded.',
    ],
    [
      'drops',
      'Voltage drop, run by run',
      'All cable runs at one current, the worst first.',
      'No cable run is recorded.',
    ],
    [
      'strings',
      'String survey',
      'All strings in even light, compared with each other.',
      'There are not two strings to compare.',
    ],
  ];
  const at = all.find(([one]) => one === kind);
  return (
    <View className="flex-1">
      <Top
        title={at ? at[1] : 'Guided tests'}
        onBack={() => (kind ? setKind(null) : router.navigate(`/site/${site.id}/service`))}
      />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          {kind === 'capacity' ? <CapacityTest site={site} onDone={() => setKind(null)} /> : null}
          {kind === 'acceptance' ? <AcceptanceTest site={site} onDone={() => setKind(null)} /> : null}
          {kind === 'drops' || kind === 'strings' ? <Round site={site} kind={kind} /> : null}
          {kind === null ? (
            <>
              <Heading look="lead" className="px-[18px] pb-2 pt-4">
                Which test?
              </Heading>
              {all.map(([one, title, says, lacks]) => (
                <Row key={one} disabled={!can[one]} onPress={() => setKind(one)} testID={`guided-${one}`}>
                  <View className="min-w-0 flex-1">
                    <T look="head">{title}</T>
                    <T look="fact">{can[one] ? says : lacks}</T>
                  </View>
                  {(one === 'capacity' || one === 'acceptance') && running[one] ? <T look="head">running</T> : null}
                </Row>
              ))}
            </>
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}
