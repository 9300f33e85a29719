import {
  CONSEQUENCE_ORDER,
  darkSentence,
  grouped,
  keyOf,
  sentenceOf,
  worstFirst,
  type Consequence,
  type Finding,
  type FirstCure,
  type Group as FindingGroup,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { createContext, useContext, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useUnits } from '../data/units';
import { partName, pathName } from '../data/reading';
import { Questions } from '../entry/Questions';
import { SchoolSwitch } from '../entry/SchoolSwitch';
import { Button, Row } from '../ui/controls';
import { FindingDetail } from '../ui/finding-detail';
import { shortDay } from '../ui/dates';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { useWidest } from '../ui/wide';
import { useToday } from '../data/today';
import { useAnswer } from '../workers/engine';
import { HeadroomNote } from './HeadroomNote';
import { Remedies } from './Remedies';
import { CONSEQUENCE_HEADS, ConsequenceBar, PartFilter } from './Bars';
import { WORDS } from '../ui/words';

/** All findings, worst first, in sentences; each opens to its working and to what would cure it. */
export function CheckScreen() {
  const site = useOpenSite();
  const [part, setPart] = useState<string | null>(null);
  const [consequence, setConsequence] = useState<Consequence | null>(null);
  const sorted = useMemo(() => [...site.findings].sort(worstFirst), [site.findings]);
  const mine = useMemo(
    () => (part === null ? sorted : sorted.filter(({ subject }) => subject === part)),
    [sorted, part],
  );
  const judged = (wanted: Finding['verdict']) => mine.filter(({ verdict }) => verdict === wanted);
  const over = judged('over');
  const notes = judged('note');
  const quiet = judged('holds');
  const { data: flips } = useAnswer<'flips'>({ ask: 'flips', model: site.judged });
  const { data: cures } = useAnswer<'cures'>({ ask: 'cures', model: site.judged, findings: site.findings });
  // What hangs on one root stands under the gravest of it, once.
  const roots = useMemo(
    () =>
      grouped(
        mine.filter(({ verdict }) => verdict === 'over' || verdict === 'tight'),
        site.judged.system,
        site.findings,
      ),
    [mine, site.judged.system, site.findings],
  );
  const shown = CONSEQUENCE_ORDER.filter((one) => consequence === null || one === consequence);
  // On the widest screens what is opened stands beside the list; at first the worst, so that there is no empty third.
  const widest = useWidest();
  const [picked, setPicked] = useState<string | null>(null);
  const beside = widest ? (mine.find((finding) => keyOf(finding) === picked) ?? roots[0]?.head ?? null) : null;
  const list = (
    <ScrollView>
      <View className="max-w-[860px] pb-10">
        {part === null && consequence === null ? <HeadroomNote /> : null}
        {part === null && consequence === null ? <YearNote /> : null}
        {part === null && consequence === null ? <FarReadings /> : null}
        <ConsequenceBar findings={over} chosen={consequence} onChoose={setConsequence} />
        <PartFilter findings={sorted} part={part} onPart={setPart} />
        {roots.length === 0 ? <T className="px-[18px] py-5">Nothing is over or tight.</T> : null}
        {shown.map((one) => (
          <Group
            key={one}
            title={CONSEQUENCE_HEADS[one]}
            groups={roots.filter(({ head }) => head.verdict === 'over' && head.consequence === one)}
            cures={cures ?? []}
          />
        ))}
        {consequence === null ? (
          <>
            <Group
              title="Tight: OK, but close to the limit"
              groups={roots.filter(({ head }) => head.verdict === 'tight')}
              cures={cures ?? []}
            />
            {part === null ? (
              <Questions site={site} title="Unknown so far" flips={flips ?? []} />
            ) : (
              <Group title="Unknown so far" groups={single(judged('unknown'))} />
            )}
            <Group title="Notes" groups={single(notes)} />
            <Folded title={quiet.length === 1 ? '1 check OK' : `${quiet.length} checks OK`} findings={quiet} />
          </>
        ) : null}
      </View>
    </ScrollView>
  );
  if (!beside) return list;
  return (
    <Beside.Provider value={{ key: keyOf(beside), show: setPicked }}>
      <View className="min-h-0 flex-1 flex-row">
        <View className="min-w-0 flex-[9] border-r border-rule">{list}</View>
        <ScrollView className="min-w-0 flex-[11] bg-well" role="region" aria-label="Selected finding">
          <Opened key={keyOf(beside)} finding={beside} />
        </ScrollView>
      </View>
    </Beside.Provider>
  );
}

/** Where a row opens beside the list instead of in it. */
const Beside = createContext<{ key: string; show(key: string): void } | null>(null);

/** Readings far from what is expected: no rule, but nobody should have to look for them. */
function FarReadings() {
  const site = useOpenSite();
  const units = useUnits();
  const pretty = usePretty();
  const today = useToday();
  const { data } = useAnswer<'trends'>({ ask: 'trends', file: site.file, on: today, units });
  const far = data?.far ?? [];
  if (far.length === 0) return null;
  return (
    <View>
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
        Readings far out of range
      </Heading>
      {far.map(({ sentence, at, quantity, subject }) => (
        <Row
          key={sentence}
          testID={`far-${quantity}-${subject}`}
          onPress={() => router.navigate(`/site/${site.id}/faults?since=${at}`)}
        >
          <View className="min-w-0 flex-1">
            <T look="head">{pretty(sentence)}</T>
            <T look="fact">{`${shortDay(at)} \u00b7 find the cause`}</T>
          </View>
        </Row>
      ))}
    </View>
  );
}

/** The year's own word, where the climate is known: the question that customers ask. */
function YearNote() {
  const site = useOpenSite();
  const known = Boolean(site.file.site.climate?.globalHorizontal_kWh_m2_d);
  const weather = { kind: 'seeded' as const, seed: 1 };
  const { data } = useAnswer<'year'>({ ask: 'year', model: site.judged, weather, count: YEARS });
  return (
    <Row testID="year" onPress={() => router.navigate(`/site/${site.id}/year`)}>
      <T look="head" className="flex-1">
        {data ? darkSentence(data) : known ? 'The year, hour by hour' : 'The year: no climate data yet'}
      </T>
      <T look="fact">the year</T>
    </Row>
  );
}

const YEARS = 100;

const single = (findings: readonly Finding[]): FindingGroup[] =>
  findings.map((head) => ({ head, others: [], title: null }));

/** Roots under one heading, each once; what hangs on one is folded behind it. */
function Group({
  title,
  groups,
  cures = [],
}: {
  title?: string;
  groups: readonly FindingGroup[];
  cures?: readonly FirstCure[];
}) {
  if (groups.length === 0) return null;
  return (
    <View>
      {title ? (
        <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
          {title}
        </Heading>
      ) : null}
      {groups.map((group) => (
        <Root key={keyOf(group.head)} group={group} cure={cures.find(({ key }) => key === keyOf(group.head)) ?? null} />
      ))}
    </View>
  );
}

function Root({ group: { head, others, title }, cure }: { group: FindingGroup; cure: FirstCure | null }) {
  const [unfolded, setUnfolded] = useState(false);
  return (
    <View>
      <FindingRow finding={head} title={title} cure={cure} />
      {others.length > 0 ? (
        <View className="ml-[30px] border-l-[3px] border-rule">
          <Row aria-expanded={unfolded} onPress={() => setUnfolded(!unfolded)} className="min-h-[48px]">
            <T look="fact" className="flex-1 font-semi text-ink">
              {others.length} more with the same cause
            </T>
            <T look="fact">{unfolded ? 'hide' : 'show'}</T>
          </Row>
          {unfolded ? others.map((finding) => <FindingRow key={keyOf(finding)} finding={finding} />) : null}
        </View>
      ) : null}
    </View>
  );
}

/** A finding in its sentence, with the part and the first thing that would cure it; opens to its working. */
function FindingRow({
  finding,
  title = null,
  cure = null,
}: {
  finding: Finding;
  title?: string | null;
  cure?: FirstCure | null;
}) {
  const pretty = usePretty();
  const site = useOpenSite();
  const [open, setOpen] = useState(false);
  const beside = useContext(Beside);
  const shown = beside?.key === keyOf(finding);
  if (open && !beside) return <Opened finding={finding} onClose={() => setOpen(false)} />;
  return (
    <Row
      testID={`row-${finding.rule}`}
      aria-expanded={shown}
      className={shown ? 'border-l-[5px] border-l-lamp bg-well pl-[13px]' : ''}
      onPress={() => (beside ? beside.show(keyOf(finding)) : setOpen(true))}
    >
      <Mark verdict={finding.verdict} />
      <View className="min-w-0 flex-1">
        <T look="head">{pretty(title ?? sentenceOf(site.judged, finding))}</T>
        <T look="fact">
          {partName(site, finding.subject)}
          {finding.school ? ` \u00b7 standard: ${pretty(finding.school)}` : ''}
        </T>
        {cure ? (
          <T look="fact" className="text-second">
            {pretty(cure.title)}
            {cure.of > 1 ? ` fixes ${cure.cures} of ${cure.of}` : ' fixes it'}
          </T>
        ) : null}
      </View>
    </Row>
  );
}

/** A finding's working and cures; in the list it can be closed, beside it it stands. */
function Opened({ finding, onClose }: { finding: Finding; onClose?: () => void }) {
  const site = useOpenSite();
  const isArray = site.judged.system.arrays?.some(({ id }) => id === finding.subject);
  return (
    <View
      className={`bg-well pr-[18px] ${onClose ? 'border-b border-l-[5px] border-rule border-l-lamp pl-[13px]' : 'pb-10 pl-[18px]'}`}
    >
      <FindingDetail finding={finding} model={site.judged} nameOf={(path) => pathName(site, path)}>
        <SchoolSwitch site={site} finding={finding} />
      </FindingDetail>
      <Remedies site={site} finding={finding} />
      <View className="flex-row gap-6">
        {onClose ? <Button label={WORDS.close} kind="plain" className="px-0" onPress={onClose} /> : null}
        <Button
          label="Open this part"
          kind="plain"
          className="px-0"
          onPress={() => router.navigate(`/site/${site.id}/part/${encodeURIComponent(finding.subject)}`)}
        />
        {isArray ? (
          <Button
            label="Curves"
            kind="plain"
            className="px-0"
            onPress={() => router.navigate(`/site/${site.id}/curve/${encodeURIComponent(finding.subject)}`)}
          />
        ) : null}
      </View>
    </View>
  );
}

/** What is OK stays folded: a sound system is quiet. */
function Folded({ title, findings }: { title: string; findings: Finding[] }) {
  const [open, setOpen] = useState(false);
  if (findings.length === 0) return null;
  return (
    <View className="pt-4">
      <Row onPress={() => setOpen(!open)} aria-expanded={open}>
        <Mark verdict="holds" />
        <T look="head" className="flex-1">
          {title}
        </T>
        <T look="fact">{open ? 'hide' : 'show'}</T>
      </Row>
      {open ? <Group groups={single(findings)} /> : null}
    </View>
  );
}
