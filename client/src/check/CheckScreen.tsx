import { grouped, keyOf, sentenceOf, worstFirst, type Finding } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { partName, pathName } from '../data/reading';
import { Questions } from '../entry/Questions';
import { SchoolSwitch } from '../entry/SchoolSwitch';
import { Button, Chip, Row } from '../kit/controls';
import { CONSEQUENCE_WORDS, FindingDetail } from '../kit/finding-detail';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { pretty } from '../kit/units';
import { useAnswer } from '../workers/engine';
import { HeadroomNote } from './HeadroomNote';
import { Remedies } from './Remedies';

/** All findings, worst first, in sentences; each opens to its working and to what would cure it. */
export function CheckScreen() {
  const site = useOpenSite();
  const [part, setPart] = useState<string | null>(null);
  const sorted = useMemo(() => [...site.findings].sort(worstFirst), [site.findings]);
  const judged = (verdict: Finding['verdict']) =>
    sorted.filter((finding) => finding.verdict === verdict && (part === null || finding.subject === part));
  const loud = [...judged('over'), ...judged('tight')];
  const notes = judged('note');
  const quiet = judged('holds');
  const { data: flips } = useAnswer<'flips'>({ ask: 'flips', model: site.judged });
  return (
    <ScrollView>
      <View className="max-w-[720px] pb-10">
        {part === null ? <HeadroomNote /> : null}
        <PartFilter findings={sorted} part={part} onPart={setPart} />
        {loud.length === 0 ? <T className="px-[18px] py-5">Nothing is over or tight.</T> : <Group findings={loud} />}
        {part === null ? (
          <Questions site={site} title="Cannot be judged yet" flips={flips ?? []} />
        ) : judged('unknown').length > 0 ? (
          <Group title="Cannot be judged yet" findings={judged('unknown')} />
        ) : null}
        {notes.length > 0 ? <Group title="Notes" findings={notes} /> : null}
        <Folded title={`${quiet.length} that hold`} findings={quiet} />
      </View>
    </ScrollView>
  );
}

/** The parts that something is the matter with, worst first; a tap shows that part alone. */
function PartFilter({
  findings,
  part,
  onPart,
}: {
  findings: readonly Finding[];
  part: string | null;
  onPart(part: string | null): void;
}) {
  const site = useOpenSite();
  const loud = findings.filter(({ verdict }) => verdict === 'over' || verdict === 'tight');
  const parts = [...new Set(loud.map(({ subject }) => subject))];
  if (parts.length < 3) return null;
  return (
    <ScrollView horizontal className="border-b border-rule" contentContainerClassName="gap-2 px-[18px] py-2">
      <View role="radiogroup" aria-label="Part" className="flex-row gap-2">
        <Chip label="All parts" on={part === null} onPress={() => onPart(null)} />
        {parts.map((id) => (
          <Chip
            key={id}
            label={`${partName(site, id)} ${loud.filter(({ subject }) => subject === id).length}`}
            on={part === id}
            onPress={() => onPart(part === id ? null : id)}
          />
        ))}
      </View>
    </ScrollView>
  );
}

function Group({ title, findings }: { title?: string; findings: Finding[] }) {
  const site = useOpenSite();
  const [open, setOpen] = useState<string | null>(null);
  const groups = useMemo(
    () => grouped(findings, site.judged.system, site.findings),
    [findings, site.judged.system, site.findings],
  );
  const line = (finding: Finding, others: number, title: string | null = null) => {
    const key = keyOf(finding);
    return open === key ? (
      <Opened key={key} finding={finding} onClose={() => setOpen(null)} />
    ) : (
      <Row key={key} testID={`row-${finding.rule}`} aria-expanded={false} onPress={() => setOpen(key)}>
        <Mark verdict={finding.verdict} />
        <View className="min-w-0 flex-1">
          <T look="head">{pretty(title ?? sentenceOf(site.judged, finding))}</T>
          <T look="fact">
            {CONSEQUENCE_WORDS[finding.consequence]} {'\u00b7'} {partName(site, finding.subject)}
            {finding.school ? ` \u00b7 school: ${finding.school}` : ''}
            {others > 0 ? ` \u00b7 ${others} more of the same root` : ''}
          </T>
        </View>
      </Row>
    );
  };
  return (
    <View>
      {title ? (
        <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
          {title}
        </Heading>
      ) : null}
      {groups.map(({ head, others, title: common }) => (
        <View key={keyOf(head)}>
          {line(head, others.length, common)}
          {others.length > 0 ? (
            <View className="ml-[30px] border-l-[3px] border-rule">{others.map((finding) => line(finding, 0))}</View>
          ) : null}
        </View>
      ))}
    </View>
  );
}

function Opened({ finding, onClose }: { finding: Finding; onClose(): void }) {
  const site = useOpenSite();
  const isArray = site.judged.system.arrays?.some(({ id }) => id === finding.subject);
  return (
    <View className="border-b border-l-[5px] border-rule border-l-lamp bg-well pl-[13px] pr-[18px]">
      <FindingDetail finding={finding} model={site.judged} nameOf={(path) => pathName(site, path)}>
        <SchoolSwitch site={site} finding={finding} />
      </FindingDetail>
      <Remedies site={site} finding={finding} />
      <View className="flex-row gap-6">
        <Button label="Close" kind="plain" className="px-0" onPress={onClose} />
        <Button
          label="Open the part"
          kind="plain"
          className="px-0"
          onPress={() => router.navigate(`/site/${site.id}/part/${encodeURIComponent(finding.subject)}`)}
        />
        {isArray ? (
          <Button
            label="Its curves"
            kind="plain"
            className="px-0"
            onPress={() => router.navigate(`/site/${site.id}/curve/${encodeURIComponent(finding.subject)}`)}
          />
        ) : null}
      </View>
    </View>
  );
}

/** What holds stays folded: a sound system is quiet. */
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
        <T look="fact">{open ? 'fold' : 'show'}</T>
      </Row>
      {open ? <Group findings={findings} /> : null}
    </View>
  );
}
