import { keyOf, sentenceOf, worstFirst, type Finding } from '@true-lantern/core';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { CONSEQUENCE_WORDS, FindingDetail } from '../kit/finding-detail';
import { Button, Row } from '../kit/controls';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { pretty } from '../kit/units';
import { partName, pathName } from '../data/reading';
import { Remedies } from './Remedies';

/** All findings, worst first, in sentences; each opens to its working and to what would cure it. */
export function CheckScreen() {
  const site = useOpenSite();
  const sorted = [...site.findings].sort(worstFirst);
  const loud = sorted.filter(({ verdict }) => verdict === 'over' || verdict === 'tight');
  const unknown = sorted.filter(({ verdict }) => verdict === 'unknown');
  const notes = sorted.filter(({ verdict }) => verdict === 'note');
  const quiet = sorted.filter(({ verdict }) => verdict === 'holds');
  return (
    <ScrollView>
      <View className="max-w-[720px] pb-10">
        {loud.length === 0 ? <T className="px-[18px] py-5">Nothing is over or tight.</T> : <Group findings={loud} />}
        {unknown.length > 0 ? <Group title="Cannot be judged yet" findings={unknown} /> : null}
        {notes.length > 0 ? <Group title="Notes" findings={notes} /> : null}
        <Folded title={`${quiet.length} that hold`} findings={quiet} />
      </View>
    </ScrollView>
  );
}

function Group({ title, findings }: { title?: string; findings: Finding[] }) {
  const site = useOpenSite();
  const [open, setOpen] = useState<string | null>(null);
  return (
    <View>
      {title ? (
        <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
          {title}
        </Heading>
      ) : null}
      {findings.map((finding) => {
        const key = keyOf(finding);
        if (open === key)
          return (
            <View key={key} className="border-b border-l-[5px] border-rule border-l-lamp bg-well pl-[13px] pr-[18px]">
              <FindingDetail finding={finding} model={site.model} nameOf={(path) => pathName(site, path)} />
              <Remedies site={site} finding={finding} />
              <Button label="Close" kind="plain" className="self-start px-0" onPress={() => setOpen(null)} />
            </View>
          );
        return (
          <Row key={key} testID={`row-${finding.rule}`} aria-expanded={false} onPress={() => setOpen(key)}>
            <Mark verdict={finding.verdict} />
            <View className="min-w-0 flex-1">
              <T look="head">{pretty(sentenceOf(site.model, finding))}</T>
              <T look="fact">
                {CONSEQUENCE_WORDS[finding.consequence]} {'\u00b7'} {partName(site, finding.subject)}
                {finding.school ? ` \u00b7 school: ${finding.school}` : ''}
              </T>
            </View>
          </Row>
        );
      })}
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
