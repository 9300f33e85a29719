import {
  keysOf,
  chosenReadings,
  COMPLAINTS,
  counted,
  CONDITIONS,
  conditionsOf,
  type Complaint,
  type Faults,
  type Reading,
  type Visit,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useEffect, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useLiveReadings } from '../data/live';
import { useOpenSite } from '../data/open-site';
import { metersOf } from '../data/meters';
import { readingsOf } from '../data/readings';
import { usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { suspects } from '../data/suspects';
import { visitNow } from '../data/visits';
import { Chip, HeavyRule, Waiting } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { useAnswer } from '../workers/engine';
import { CauseRow } from './CauseRow';
import { grouped, keyOf, leadOf, percent } from './fault-words';
import { NextReading, type AnswerProps } from './NextReading';

/** Live values of so long ago are of the system as it is. */
const HEARD_MS = 36 * 3_600_000;
/** So many causes are listed; the rest is folded into one line. */
const SHOWN = 6;

/** What does not work, the causes with their chances, and the next reading: one at a time, off line. */
export function FaultsScreen() {
  const site = useOpenSite();
  const [complaint, setComplaint] = useState<Complaint | null>(null);
  const person = usePerson();
  const visit = visitNow(site, null);
  const meter = metersOf(person.id)[0];
  const conditions = conditionsOf(visit, meter?.pct ?? CONDITIONS.meter_pct);
  // From a trend or a finding: every reading since then, of whatever visit.
  const { since } = useLocalSearchParams<{ since?: string }>();
  const { readings, heard, withHeard, take } = useTaken(site, since, visit);
  const { data, error } = useAnswer<'faults'>({
    ask: 'faults',
    model: site.judged,
    readings,
    asked: { complaint: complaint ?? undefined, visit, conditions },
  });
  // What is being typed is weighed as if it were saved: the bars move before it is.
  const [typed, setTyped] = useState<Reading | null>(null);
  const { data: preview } = useAnswer<'faults'>({
    ask: 'faults',
    model: site.judged,
    readings: typed ? [...readings, typed] : readings,
    asked: { complaint: complaint ?? undefined, visit, conditions, chancesOnly: true },
  });
  useSuspects((typed ? preview : null) ?? data);
  return (
    <View className="flex-1">
      <Top title="Find the fault" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <Heading level={2} look="station" className="px-[18px] pt-4">
            What does the customer say?
          </Heading>
          <View
            role="radiogroup"
            aria-label="What does the customer say?"
            className="flex-row flex-wrap gap-2 px-[18px] pt-2"
          >
            {keysOf(COMPLAINTS).map((one) => (
              <Chip
                key={one}
                label={COMPLAINTS[one]}
                on={complaint === one}
                onPress={() => setComplaint(complaint === one ? null : one)}
              />
            ))}
          </View>
          {heard.length > 0 ? (
            <View role="group" aria-label="Take along" className="flex-row flex-wrap px-[18px] pt-3">
              <Chip
                many
                label={`Live values (${counted(heard.length, 'reading')})`}
                on={withHeard}
                onPress={() => take(!withHeard)}
              />
            </View>
          ) : null}
          {error ? <T className="px-[18px] pt-4">{error.message}</T> : null}
          {data ? (
            <Answer
              site={site}
              faults={data}
              preview={typed ? (preview ?? null) : null}
              onTyped={setTyped}
              readings={readings}
              conditions={conditions}
            />
          ) : error ? null : (
            <Waiting what="Comparing the readings ..." />
          )}
        </View>
      </ScrollView>
    </View>
  );
}

/** The readings that are weighed: of the visit or since a day, with what the system itself has said. */
function useTaken(site: OpenSite, since: string | undefined, visit: Visit | null) {
  const own = chosenReadings({ readings: readingsOf(site) }, since ? { since } : visit ? { visit: visit.id } : {});
  // A system that speaks has said something already: taken along where nobody has read anything yet, or when asked.
  const [opened] = useState(Date.now);
  const [asked, take] = useState<boolean | null>(null);
  const from = since ? Date.parse(since) : opened - HEARD_MS;
  const heard = useLiveReadings(site.id).filter(({ at }) => Date.parse(at ?? '') > from);
  const withHeard = asked ?? own.length === 0;
  return { readings: withHeard ? [...own, ...heard] : own, heard, withHeard, take };
}

/** Beside this page, on a wide screen, each suspect has its chance where it sits on the Line. */
function useSuspects(faults: Faults | undefined) {
  useEffect(() => {
    const chances = new Map<string, number>();
    for (const { subject, probability } of faults?.ranking ?? [])
      chances.set(subject, (chances.get(subject) ?? 0) + probability);
    suspects.set(faults ? chances : null);
  }, [faults]);
  useEffect(() => () => suspects.set(null), []);
}

function Answer({ site, faults, preview, onTyped, readings, conditions }: AnswerProps) {
  const causes = grouped((preview ?? faults).ranking);
  const [open, setOpen] = useState<string | null>(null);
  const urgent = faults.ruleOutFirst;
  const urgentCause = urgent && causes.find(({ key }) => key === keyOf(urgent));
  return (
    <View>
      <Heading look="lead" className="px-[18px] pt-5" testID="faults-lead">
        {leadOf(causes, readings.length)}
      </Heading>
      {urgentCause ? (
        <View className="mx-[18px] mt-3 border-l-[5px] border-ink pl-3" testID="rule-out-first">
          <T look="head">Rule this out first</T>
          <T>{`${urgentCause.best.title}. ${urgentCause.best.apart}`}</T>
        </View>
      ) : null}
      <NextReading site={site} faults={faults} preview={preview} onTyped={onTyped} conditions={conditions} />
      <HeavyRule />
      <Heading level={2} look="station" className="px-[18px] pt-4">
        Causes, most likely first
      </Heading>
      {causes.slice(0, SHOWN).map((cause) => (
        <CauseRow
          key={cause.key}
          cause={cause}
          open={open === cause.key}
          onOpen={() => setOpen(open === cause.key ? null : cause.key)}
          site={site}
          readings={readings}
        />
      ))}
      {causes.length > SHOWN ? (
        <T look="fact" className="px-[18px] py-3">
          {`${counted(causes.length - SHOWN, 'other cause')}, together ${percent(causes.slice(SHOWN).reduce((sum, { chance }) => sum + chance, 0))}`}
        </T>
      ) : null}
      {faults.unused.length > 0 ? (
        <T look="fact" className="px-[18px] py-2">
          {`${counted(faults.unused.length, 'reading')} not used: no cause changes ${faults.unused.length === 1 ? 'it' : 'them'}.`}
        </T>
      ) : null}
    </View>
  );
}
