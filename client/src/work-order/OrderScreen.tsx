import {
  clocksOf,
  FaultError,
  isolationOf,
  modelOf,
  nextStep,
  stopsOf,
  type Model,
  type Proposal,
  type Work,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useShelf } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { ticksOf } from '../data/work';
import { useAwake } from '../ui/awake';
import { Button, Chip, HeavyRule, Plain, Waiting } from '../ui/controls';
import { momentText } from '../ui/dates';
import { BackArrow } from '../ui/back-arrow';
import { Heading, T } from '../ui/text';
import { useAnswer } from '../workers/engine';
import { Cuts } from './Cuts';
import { Kit } from './Kit';
import { Out } from './Out';
import { PhaseBar, StepList } from './StepList';
import { StepCard } from './StepCard';

/** One order of work: what is fetched, cut and taken out, and its steps one at a time. */
export function OrderScreen({ proposalId }: { proposalId: string }) {
  const site = useOpenSite();
  const proposal = site.file.proposals?.find(({ id }) => id === proposalId);
  const after = useMemo(() => (proposal ? orderedModel(site, proposal) : null), [site, proposal]);
  if (!proposal || proposal.closed || !after)
    return (
      <Plain title={proposal?.closed ? 'This proposal is already installed.' : 'This proposal is not here.'}>
        <Button label="All work orders" onPress={() => router.navigate(`/site/${site.id}/install`)} />
      </Plain>
    );
  if ('faults' in after)
    return (
      <Plain
        title="This proposal no longer applies, so it has no order."
        text={`${after.faults[0] ?? ''} Update its changes first.`}
      >
        <Button
          label="Show changes"
          kind="main"
          onPress={() => router.navigate(`/site/${site.id}/plan/${encodeURIComponent(proposalId)}`)}
        />
        <Button label="All work orders" onPress={() => router.navigate(`/site/${site.id}/install`)} />
      </Plain>
    );
  return <Ordered proposal={proposal} after={after.model} />;
}

/** The system as proposed, or why there is none: an order is never made of a part of a proposal. */
function orderedModel(site: OpenSite, { id }: Proposal): { model: Model } | { faults: string[] } {
  try {
    return { model: modelOf(site.file, id) };
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return { faults: error.faults.map(({ message }) => `${message.charAt(0).toUpperCase()}${message.slice(1)}.`) };
  }
}

type Tab = 'steps' | 'kit' | 'cuts' | 'out';
const TABS: [Tab, string][] = [
  ['steps', 'Steps'],
  ['kit', 'Kit'],
  ['cuts', 'Cuts'],
  ['out', 'Removed and labels'],
];

function Ordered({ proposal, after }: { proposal: Proposal; after: Model }) {
  const site = useOpenSite();
  const { items } = useShelf();
  const { data: work, error } = useAnswer<'work'>({ ask: 'work', before: site.model, after, shelf: items });
  const [tab, setTab] = useState<Tab>('steps');
  useAwake();
  if (error) return <Plain title="The work order cannot be made." text={error.message} />;
  if (!work) return <Waiting what="Making the work order ..." />;
  return (
    <View className="flex-1">
      <Head site={site} proposal={proposal} work={work} />
      <View role="radiogroup" aria-label="Work order" className="flex-row gap-2 px-[18px] py-2">
        {TABS.map(([name, label]) => (
          <Chip key={name} label={label} on={tab === name} onPress={() => setTab(name)} />
        ))}
      </View>
      <HeavyRule />
      {tab === 'steps' ? <Steps proposal={proposal} work={work} after={after} /> : null}
      {tab === 'kit' ? <Kit proposal={proposal} work={work} /> : null}
      {tab === 'cuts' ? <Cuts work={work} after={after} /> : null}
      {tab === 'out' ? <Out work={work} /> : null}
    </View>
  );
}

/** What is being built, and what is off, dead or live right now. */
function Head({ site, proposal, work }: { site: OpenSite; proposal: Proposal; work: Work }) {
  const ticks = ticksOf(proposal);
  const { words, since } = isolationOf(work.steps, ticks);
  return (
    <View>
      <View className="min-h-[56px] flex-row items-center pr-[18px]">
        <BackArrow label="All work orders" onPress={() => router.navigate(`/site/${site.id}/install`)} />
        <Heading look="station" className="min-w-0 flex-1 text-second">
          {proposal.title}
        </Heading>
      </View>
      <View className="bg-ink px-[18px] py-2" testID="isolation" role="status">
        <T look="head" className="text-paper">
          {words}
          {since ? ` Since ${momentText(since)}.` : ''}
        </T>
      </View>
    </View>
  );
}

function Steps({ proposal, work, after }: { proposal: Proposal; work: Work; after: Model }) {
  const site = useOpenSite();
  const ticks = useMemo(() => ticksOf(proposal), [proposal]);
  const [chosen, setChosen] = useState<string | null>(null);
  const next = nextStep(work.steps, ticks);
  const step = work.steps.find(({ key }) => key === chosen) ?? next;
  const stops = stopsOf(site.judged, site.findings).filter(({ settled }) => !settled);
  if (work.steps.length === 0)
    return <Plain title="Nothing to do." text="This proposal changes no part and no setting." />;
  return (
    <ScrollView>
      <View className="max-w-[860px] pb-10">
        <PhaseBar clocks={clocksOf(work.steps, ticks)} now={step?.phase ?? null} />
        {step ? (
          <StepCard
            key={step.key}
            step={step}
            work={work}
            proposal={proposal}
            after={after}
            ticks={ticks}
            stops={stops.map(({ title }) => title)}
            onGo={setChosen}
          />
        ) : (
          <View className="gap-3 px-[18px] py-6" testID="order-done">
            <Heading look="lead">Every step is ticked.</Heading>
            <Button
              label="Measure and sign"
              kind="main"
              onPress={() => router.navigate(`/site/${site.id}/service?of=${encodeURIComponent(proposal.id)}`)}
            />
          </View>
        )}
        <StepList steps={work.steps} ticks={ticks} current={step?.key ?? null} onGo={setChosen} />
        <View className="px-[18px] pt-6">
          <Button
            label="Work sheet on paper"
            onPress={() => router.navigate(`/paper/${site.id}/${encodeURIComponent(proposal.id)}/work`)}
          />
        </View>
      </View>
    </ScrollView>
  );
}
