import { canConvert, canRaise, counted, presentModules, type Proposal } from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import type { OpenSite } from '../data/site';
import { openProposals } from '../data/work';
import { Columns } from '../ui/columns';
import { Button, Row } from '../ui/controls';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { useWidest } from '../ui/wide';
import { OnWhat, useBase, type Base } from './base';
import { PlanHeader } from './PlanHeader';
import { useProposed } from './proposed';
import { comparisonText } from './words';

interface WhatIf {
  path: string;
  label: string;
  says: string;
  /** Where there is nothing to ask it of, it is not offered. */
  when(base: Base): boolean;
}
const WHAT_IFS: WhatIf[] = [
  {
    path: 'load',
    label: 'Add a load',
    says: 'what it pushes over its limit, and what would fix that',
    when: () => true,
  },
  {
    path: 'modules',
    label: 'Add modules',
    says: 'every layout, on these controllers or one more',
    when: ({ model }) => presentModules(model) !== null,
  },
  {
    path: 'convert',
    label: 'Convert to lithium',
    says: 'packs from the shelf, every other part checked, settings sheet',
    when: ({ model }) => canConvert(model),
  },
  {
    path: 'voltage',
    label: 'Raise the voltage',
    says: 'what must be replaced, and how much current and copper it saves',
    when: ({ model }) => canRaise(model),
  },
  {
    path: 'replace',
    label: 'Replace a part',
    says: 'the minimum spec, matches on your shelf, check a product',
    when: () => true,
  },
  { path: 'source', label: 'Add a charging source', says: 'a charger, a generator, an inlet', when: () => true },
  { path: 'inverter', label: 'Add an inverter', says: 'with the cable and fuse it needs', when: () => true },
  {
    path: 'device',
    label: 'Add another part',
    says: 'a converter, a board, a switch, a shunt, a cable',
    when: () => true,
  },
  {
    path: 'change',
    label: 'Change something',
    says: 'one more string, one module fewer, a fuse moved, a setting, another size',
    when: () => true,
  },
  {
    path: 'cable',
    label: 'A larger cable size',
    says: 'what one size larger would fix',
    when: ({ model }) => (model.system.runs ?? []).length > 0,
  },
];

/** Proposals beside the system as found, and the what-ifs that make new ones. */
export function PlanScreen() {
  const site = useOpenSite();
  const base = useBase();
  const proposals = openProposals(site);
  const widest = useWidest();
  const go = (path: string) => router.navigate(`/site/${site.id}/plan/${path}`);
  const found = proposals.length > 0 && !base.id ? <Proposals site={site} proposals={proposals} go={go} /> : null;
  const whatIfs = <WhatIfs base={base} go={go} />;
  const untilThen = (
    <>
      {base.id ? null : <UntilThen go={go} />}
      {proposals.length === 0 ? (
        <T className="px-[18px] py-3 text-soft">No proposals yet. Save any what-if as one.</T>
      ) : null}
    </>
  );
  return (
    <View className="flex-1">
      {base.title ? <PlanHeader title={`What if, on ${base.title}`} second /> : null}
      <ScrollView>
        <View className="pb-10">
          {base.id ? (
            <OnWhat base={base} />
          ) : (
            <Heading look="lead" className="px-[18px] pt-4">
              {proposals.length === 0
                ? 'Nothing is proposed yet.'
                : `${counted(proposals.length, 'proposal')} next to the system as found.`}
            </Heading>
          )}
          {widest ? (
            <Columns two>
              <>
                {found}
                {untilThen}
              </>
              {whatIfs}
            </Columns>
          ) : (
            <View className="max-w-[860px]">
              {found}
              {whatIfs}
              {untilThen}
            </View>
          )}
        </View>
      </ScrollView>
    </View>
  );
}

interface Going {
  go(path: string): void;
}

const Proposals = ({ site, proposals, go }: { site: OpenSite; proposals: Proposal[] } & Going) => (
  <>
    <View className="flex-row items-center gap-3 px-[18px] pt-5">
      <Heading level={2} look="station" className="min-w-0 flex-1">
        Proposals
      </Heading>
      <Button label="Compare" kind="second" className="min-h-[48px]" onPress={() => go('compare')} />
    </View>
    {proposals.map((proposal) => (
      <ProposalRow key={proposal.id} site={site} proposal={proposal} />
    ))}
  </>
);

/** What can be asked of this base. */
function WhatIfs({ base, go }: { base: Base } & Going) {
  const on = base.id ? `?on=${encodeURIComponent(base.id)}` : '';
  return (
    <>
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
        What if
      </Heading>
      {WHAT_IFS.filter(({ when }) => when(base)).map(({ path, label, says }) => (
        <Row key={path} testID={`what-if-${path}`} onPress={() => go(`${path}${on}`)}>
          <View className="min-w-0 flex-1">
            <T look="head">{label}</T>
            <T look="fact">{says}</T>
          </View>
        </Row>
      ))}
      {presentModules(base.model) ? null : (
        <T className="px-[18px] py-3 text-soft">More modules: record the present ones and a controller first.</T>
      )}
    </>
  );
}

/** What may run as it is, and what it costs. */
const UntilThen = ({ go }: Going) => (
  <>
    <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
      Until then
    </Heading>
    <Row testID="interim" onPress={() => go('interim')}>
      <View className="min-w-0 flex-1">
        <T look="head">Until parts arrive</T>
        <T look="fact">safe limits until the repair</T>
      </View>
    </Row>
    <Row testID="money" onPress={() => go('money')}>
      <View className="min-w-0 flex-1">
        <T look="head">Money</T>
        <T look="fact">cost per usable kWh over the whole life, compared with fuel and bills</T>
      </View>
    </Row>
  </>
);

function ProposalRow({ site, proposal }: { site: OpenSite; proposal: Proposal }) {
  const { result, lost } = useProposed(site, proposal);
  return (
    <Row
      testID={`proposal-${proposal.id}`}
      onPress={() => router.navigate(`/site/${site.id}/plan/${encodeURIComponent(proposal.id)}`)}
    >
      <Mark
        verdict={
          lost > 0
            ? 'unknown'
            : result.broken.length + result.worse.length + result.remaining.length > 0
              ? 'over'
              : 'holds'
        }
      />
      <View className="min-w-0 flex-1">
        <T look="head" className="text-second">
          {proposal.title}
        </T>
        <T look="fact">
          {lost > 0
            ? `${lost === 1 ? 'One of its changes' : `${lost} of its changes`} no longer ${lost === 1 ? 'applies' : 'apply'} to the survey. ${comparisonText(result)}`
            : comparisonText(result)}
        </T>
      </View>
    </Row>
  );
}
