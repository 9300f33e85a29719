import {
  aheadLines,
  chargeNow,
  CONDITIONS,
  counted,
  dueOf,
  proposedModel,
  type Model,
  type Proposal,
  conditionsOf,
  provedOf,
  walkOrder,
  type Proved,
} from '@true-lantern/core';
import { router, useGlobalSearchParams } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { readingsOf } from '../data/readings';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { beginVisit, setVisit, visitNow, visitsOf } from '../data/visits';
import { openProposals } from '../data/work';
import { metersOf } from '../data/meters';
import { Chip, HeavyRule, Waiting } from '../ui/controls';
import { inDays, shortDay } from '../ui/dates';
import { Heading, T } from '../ui/text';
import { useToday } from '../data/today';
import { useAnswer } from '../workers/engine';
import { ConditionsEntry } from './ConditionsEntry';
import { Signing } from './Signing';
import { missingText, nameOf } from './names';
import { TestRow } from './TestRow';

/** Expected beside measured: the figure that is typed flips the row; what is left out says why; then it is signed. */
export function ServiceScreen() {
  const site = useOpenSite();
  const { of } = useGlobalSearchParams<{ of?: string }>();
  const proposals = useMemo(() => openProposals(site), [site]);
  const { proposal, model } = useMemo(() => {
    const chosen = proposals.find(({ id }) => id === of) ?? null;
    return { proposal: chosen, model: chosen ? proposedModel(site.file, chosen.id) : site.judged };
  }, [site, proposals, of]);
  return (
    <View className="flex-1">
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <OtherPages site={site} />
          {proposals.length > 0 ? (
            <View role="radiogroup" aria-label="What to measure" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
              <Chip label="As found" on={proposal === null} onPress={() => router.setParams({ of: '' })} />
              {proposals.map(({ id, title }) => (
                <Chip key={id} label={title} on={proposal?.id === id} onPress={() => router.setParams({ of: id })} />
              ))}
            </View>
          ) : null}
          {model ? (
            <Tests key={proposal?.id ?? ''} site={site} proposal={proposal} model={model} />
          ) : (
            <T className="px-[18px] py-6">This proposal no longer matches the survey. Update it first.</T>
          )}
        </View>
      </ScrollView>
    </View>
  );
}

function Tests({ site, proposal, model }: { site: OpenSite; proposal: Proposal | null; model: Model }) {
  const person = usePerson();
  const mayWrite = useMayWrite();
  const visit = visitNow(site, proposal?.id ?? null);
  const [meter, setMeter] = useState(metersOf(person.id)[0] ?? { name: '', pct: CONDITIONS.meter_pct });
  const conditions = conditionsOf(visit, meter.pct);
  const { data } = useAnswer<'expect'>({ ask: 'expect', model, conditions });
  const [open, setOpen] = useState<string | null>(null);
  /** The visit begins with the first thing that is written down. */
  const onVisit = () => visit?.id ?? beginVisit(site, person.name, proposal?.id ?? null);
  const write = (fields: Record<string, unknown>) => {
    if (visit) setVisit(site, visit.id, fields);
    else beginVisit(site, person.name, proposal?.id ?? null, fields);
  };
  if (!data) return <Waiting what="Working out the expected readings ..." />;
  const proved = provedOf(walkOrder(data.tests), readingsOf(site), visit);
  const subjects = [...new Set(data.tests.map(({ subject }) => subject))];
  return (
    <View>
      <Heading look="lead" className="px-[18px] pt-4" testID="service-lead">
        {leadOf(proved)}
      </Heading>
      <ConditionsEntry
        conditions={conditions}
        entered={visit?.conditions ?? null}
        meter={meter}
        onMeter={setMeter}
        mayWrite={mayWrite}
        onSet={(fields) =>
          write(Object.fromEntries(Object.entries(fields).map(([name, value]) => [`conditions.${name}`, value])))
        }
      />
      <HeavyRule />
      {subjects.map((subject) => (
        <View key={subject} className="pt-4">
          <Heading level={2} look="station" className="px-[18px] pb-1">
            {nameOf(model, subject)}
          </Heading>
          {proved
            .filter(({ test }) => test.subject === subject)
            .map((one) => (
              <TestRow
                key={one.test.id}
                proved={one}
                open={open === one.test.id}
                onOpen={() => setOpen(open === one.test.id ? null : one.test.id)}
                onDone={() => setOpen(nextAfter(proved, one))}
                site={site}
                visitId={visit?.id ?? null}
                onVisit={onVisit}
                conditions={conditions}
                meter={meter}
                write={write}
              />
            ))}
        </View>
      ))}
      {data.left.length > 0 ? (
        <View className="px-[18px] pt-6" testID="cannot-expect">
          <Heading level={2} look="station">
            No expected readings yet for
          </Heading>
          {data.left.map(({ subject, missing }, i) => (
            <T key={i} className="border-b border-rule py-2">
              {`${nameOf(model, subject)}: ${missing.map((path) => missingText(site, path)).join(', ')} not read`}
            </T>
          ))}
        </View>
      ) : null}
      {visit ? (
        <Signing site={site} visit={visit} proposal={proposal} after={model} proved={proved} write={write} />
      ) : (
        <T className="px-[18px] pt-6 text-soft">The visit begins with the first reading. Sign it when you are done.</T>
      )}
    </View>
  );
}

/** The next test that nobody has read yet: the pad stays where the thumb is. */
function nextAfter(proved: readonly Proved[], { test }: Proved): string | null {
  const at = proved.findIndex((one) => one.test.id === test.id);
  return proved.slice(at + 1).find(({ reading, untested }) => !reading && !untested)?.test.id ?? null;
}

function leadOf(proved: readonly Proved[]): string {
  const read = proved.filter(({ reading }) => reading);
  const outside = read.filter(({ judged }) => judged === 'outside');
  if (read.length === 0) return `${counted(proved.length, 'measurement')}.`;
  const open = proved.filter(({ reading, untested }) => !reading && !untested).length;
  const left = open === 0 ? 'all measured' : `${open} left`;
  return outside.length === 0
    ? `${read.length} measured, none outside, ${left}.`
    : `${read.length} read, ${outside.length} outside, ${left}.`;
}

/** The other pages of Service, each with what it says now. */
function OtherPages({ site }: { site: OpenSite }) {
  const visits = visitsOf(site);
  const today = useToday();
  const due = useMemo(() => dueOf(site.file, today), [site.file, today]);
  const soc = useMemo(() => chargeNow(site.file, today)?.soc ?? null, [site.file, today]);
  const overdue = due.filter(({ overdue_d }) => overdue_d > 0).length;
  const entries = (site.file.log ?? []).length;
  const pages: readonly (readonly [id: string, path: string, title: string, says: ReactNode])[] = [
    ['find-fault', 'faults', 'Find the fault', 'What the readings say, what to read next'],
    [
      'visits',
      'visits',
      'Visits',
      visits.length === 0 ? 'none yet' : `${visits.length}, the last ${visits[0]?.at ? shortDay(visits[0].at) : ''}`,
    ],
    [
      'due',
      'due',
      'Due',
      overdue > 0 ? `${overdue} overdue` : due.length > 0 ? `${due.length} within 30 days` : 'nothing',
    ],
    ['log', 'log', 'Log', entries > 0 ? counted(entries, 'entry', 'entries') : 'what was done, and by whom'],
    ['guided', 'guided', 'Guided tests', 'Capacity, acceptance, voltage drops, strings'],
    ['trends', 'trends', 'Trends', 'How it changes over the years'],
    // Only from a charge that was read: an assumed one is no forecast, and its lines are not shown here.
    ...(soc === null ? [['ahead', 'ahead', 'Days ahead', WILL_IT_LAST] as const] : []),
    ['live', 'live', 'Live', 'What the system says now'],
    ['handover', 'handover', 'Hand-over', 'A page for the customer'],
    ['papers', 'papers', 'Papers', 'Reports, offers, records'],
    ['practice', 'practice', 'Practice', 'Find a hidden fault'],
  ];
  return (
    <View className="flex-row flex-wrap border-b-2 border-ink">
      {soc === null ? null : <DaysAhead site={site} today={today} soc={soc} />}
      {pages.map(([id, path, title, says]) => (
        <Pressable
          key={id}
          role="button"
          testID={id}
          onPress={() => router.navigate(`/site/${site.id}/${path}`)}
          className="min-h-[64px] w-1/2 justify-center border-b border-r border-rule px-[18px] py-2 active:bg-well wide:w-1/4"
        >
          <T look="head">{title}</T>
          <T look="fact" numberOfLines={2}>
            {says}
          </T>
        </Pressable>
      ))}
    </View>
  );
}

const WILL_IT_LAST = 'Will the bank last?';

/** Tonight, this week, and what to leave off, once they are worked out. */
function DaysAhead({ site, today, soc }: { site: OpenSite; today: number; soc: number }) {
  const { data } = useAnswer<'ahead'>({ ask: 'ahead', model: site.judged, asked: { on: today, soc } });
  const lines = data ? aheadLines(site.model, data) : [];
  const [tonight = WILL_IT_LAST, ...rest] = lines;
  return (
    <Pressable
      role="button"
      testID="ahead"
      onPress={() => router.navigate(`/site/${site.id}/ahead`)}
      className="w-full gap-1 border-b border-rule px-[18px] py-3 active:bg-well"
    >
      <T look="head">{tonight}</T>
      {rest.map((line) => (
        <T key={line}>{inDays(line)}</T>
      ))}
    </Pressable>
  );
}
