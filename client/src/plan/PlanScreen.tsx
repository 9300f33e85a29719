import {
  canConvert,
  compare,
  FaultError,
  modelOf,
  presentModules,
  type Comparison,
  type Proposal,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import type { OpenSite } from '../data/site';
import { Row } from '../kit/controls';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { comparisonText } from './words';

/** Proposals beside the system as found, and the what-ifs that make new ones. */
export function PlanScreen() {
  const site = useOpenSite();
  const proposals = site.file.proposals ?? [];
  const present = presentModules(site.model);
  return (
    <ScrollView>
      <View className="max-w-[720px] pb-10">
        <Heading level={2} look="station" className="px-[18px] pb-1 pt-5">
          What if
        </Heading>
        {present ? (
          <Row testID="what-if-modules" onPress={() => router.navigate(`/site/${site.id}/plan/modules`)}>
            <View className="min-w-0 flex-1">
              <T look="head">Add modules</T>
              <T look="fact">{present.count} now; every way to string more of them</T>
            </View>
          </Row>
        ) : (
          <T className="px-[18px] py-3 text-soft">Record the modules and a controller first.</T>
        )}
        <Row testID="what-if-load" onPress={() => router.navigate(`/site/${site.id}/plan/load`)}>
          <View className="min-w-0 flex-1">
            <T look="head">Add a load</T>
            <T look="fact">what it turns over, and what would carry it</T>
          </View>
        </Row>
        {canConvert(site.model) ? (
          <Row testID="what-if-lithium" onPress={() => router.navigate(`/site/${site.id}/plan/convert`)}>
            <View className="min-w-0 flex-1">
              <T look="head">Convert to lithium</T>
              <T look="fact">packs of the shelf, every other part judged, the settings sheet</T>
            </View>
          </Row>
        ) : null}
        <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
          Proposals
        </Heading>
        {proposals.length === 0 ? (
          <T className="px-[18px] py-3 text-soft">None yet. Try a remedy in Check, or a what-if above.</T>
        ) : null}
        {proposals.map((proposal) => (
          <ProposalRow key={proposal.id} site={site} proposal={proposal} />
        ))}
      </View>
    </ScrollView>
  );
}

function ProposalRow({ site, proposal }: { site: OpenSite; proposal: Proposal }) {
  const result = comparisonOf(site, proposal.id);
  return (
    <Row
      testID={`proposal-${proposal.id}`}
      onPress={() => router.navigate(`/site/${site.id}/plan/${encodeURIComponent(proposal.id)}`)}
    >
      <Mark
        verdict={'fault' in result ? 'unknown' : result.broken.length + result.remaining.length > 0 ? 'over' : 'holds'}
      />
      <View className="min-w-0 flex-1">
        <T look="head" className="text-second">
          {proposal.title}
        </T>
        <T look="fact">{'fault' in result ? result.fault : comparisonText(result)}</T>
      </View>
    </Row>
  );
}

/** What a proposal does, or why it no longer applies to the system as surveyed now. */
export function comparisonOf(site: OpenSite, proposalId: string): Comparison | { fault: string } {
  try {
    return compare(site.findings, modelOf(site.file, proposalId));
  } catch (error) {
    if (error instanceof FaultError) return { fault: `No longer applies: ${error.message.split('\n')[0]}` };
    throw error;
  }
}
