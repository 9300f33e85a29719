import { modelOf, sentenceOf, type Finding } from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { removeProposal } from '../data/proposals';
import { useMayWrite } from '../data/session';
import { Button, HeavyRule, Plain } from '../kit/controls';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { pretty } from '../kit/units';
import { SiteLine } from '../line/SiteLine';
import { PlanHeader } from './PlanHeader';
import { comparisonOf } from './PlanScreen';
import { comparisonText } from './words';

/** A proposal on the Line: what stays is plain, what changes is in the second ink, what goes is struck through. */
export function ProposalScreen({ proposalId }: { proposalId: string }) {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const proposal = site.file.proposals?.find(({ id }) => id === proposalId);
  const drop = () => {
    removeProposal(site, proposalId);
    router.navigate(`/site/${site.id}/plan`);
  };
  if (!proposal)
    return (
      <Plain title="This proposal is not here.">
        <Button label="All proposals" onPress={() => router.navigate(`/site/${site.id}/plan`)} />
      </Plain>
    );
  const result = comparisonOf(site, proposalId);
  if ('fault' in result)
    return (
      <View className="flex-1">
        <PlanHeader title={proposal.title} second />
        <Plain title="The survey has changed underneath." text={result.fault}>
          {mayWrite ? <Button label="Remove the proposal" onPress={drop} /> : null}
        </Plain>
      </View>
    );
  const model = modelOf(site.file, proposalId);
  const say = (findings: Finding[], of: typeof model) =>
    findings.map((finding) => ({ finding, text: pretty(sentenceOf(of, finding)) }));
  return (
    <View className="flex-1">
      <PlanHeader title={proposal.title} second />
      <ScrollView>
        <View className="max-w-[720px] pb-10">
          <T look="lead" className="px-[18px] pb-4 pt-4" testID="comparison">
            {comparisonText(result)}
          </T>
          <HeavyRule />
          <SiteLine site={site} proposed={{ system: model.system, findings: result.after }} />
          <Changes title="Breaks" items={say(result.broken, model)} mark />
          <Changes title="Still over" items={say(result.remaining, model)} mark />
          <Changes title="Cures" items={say(result.cured, site.model)} />
          {mayWrite ? (
            <View className="px-[18px] pt-6">
              <Button label="Remove the proposal" onPress={drop} />
            </View>
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}

function Changes({
  title,
  items,
  mark = false,
}: {
  title: string;
  items: { finding: Finding; text: string }[];
  mark?: boolean;
}) {
  if (items.length === 0) return null;
  return (
    <View className="px-[18px] pt-5">
      <Heading level={2} look="station">
        {title}
      </Heading>
      {items.map(({ finding, text }) => (
        <View
          key={`${finding.rule}${finding.subject}${finding.quantity}`}
          className="flex-row items-center gap-3 border-b border-rule py-2"
        >
          {mark ? <Mark verdict={finding.verdict} /> : null}
          <T className={`min-w-0 flex-1 ${mark ? '' : 'line-through'}`}>{text}</T>
        </View>
      ))}
    </View>
  );
}
