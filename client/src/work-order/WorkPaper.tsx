import { bandText, proposedModel, type Model, type Proposal, type Work } from '@true-lantern/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useShelf } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { ticksOf } from '../data/work';
import { Waiting } from '../ui/controls';
import { PaperPage, PaperPart, PaperSheet, PLANNING_VALUES } from '../ui/paper';
import { Heading, T } from '../ui/text';
import { inUnits, usePretty, sizeText } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { cutPlace } from './Cuts';
import { PHASE_WORDS } from './phases';

/** The work sheet with boxes, for when the phone dies: kit, cuts, what comes out, every step. */
export const WorkPaper = ({ siteId, proposalId }: { siteId: string; proposalId: string }) => (
  <PaperPage
    siteId={siteId}
    find={({ file }) => file.proposals?.find(({ id }) => id === proposalId)}
    gone="This proposal is not here."
    pdf="work"
    about={proposalId}
    back={`/site/${siteId}/install/${encodeURIComponent(proposalId)}`}
  >
    {(site, proposal) => <Sheet site={site} proposal={proposal} />}
  </PaperPage>
);

function Sheet({ site, proposal }: { site: OpenSite; proposal: Proposal }) {
  const { items } = useShelf();
  const after = useMemo(() => proposedModel(site.file, proposal.id), [site, proposal]);
  const { data: work } = useAnswer<'work'>({
    ask: 'work',
    before: site.model,
    after: after ?? site.model,
    shelf: items,
  });
  if (!after) return <T>This proposal no longer applies, so it has no order.</T>;
  if (!work) return <Waiting what="Making the work order ..." />;
  return (
    <PaperSheet testID="work-paper" title={`Work sheet: ${proposal.title}`} under={site.file.site.name}>
      <Lists work={work} after={after} />
      <Steps work={work} proposal={proposal} />
      <T look="fact" className="pt-6">
        {PLANNING_VALUES}
      </T>
      <View className="flex-row gap-8 pt-10">
        <View className="flex-1 border-t border-ink pt-1">
          <T look="fact">Done by: name, date, signature</T>
        </View>
      </View>
    </PaperSheet>
  );
}

/** What is packed, cut, carried out and written on things. */
function Lists({ work, after }: { work: Work; after: Model }) {
  const pretty = usePretty();
  const units = useUnits();
  return (
    <>
      <PaperPart title="Kit" shown={work.kit.length > 0}>
        {work.kit.map(({ line, what, count }) => (
          <Boxed key={line} text={`${count} \u00d7 ${pretty(what)}`} />
        ))}
      </PaperPart>
      <PaperPart title="Cuts" shown={work.cuts.length > 0}>
        {work.cuts.map((cut) => (
          <Boxed
            key={cut.run}
            text={`${cut.poles * cut.perPole} \u00d7 ${inUnits(cut.cut_m, 'm', units)} of ${sizeText(cut.size, units)}: ${cutPlace(after, cut)}; ${cut.colourNote}`}
          />
        ))}
      </PaperPart>
      <PaperPart title="To remove" shown={work.removed.length > 0}>
        {work.removed.map(({ id, what, mass_kg, note }, i) => (
          <Boxed
            key={`${id} ${i}`}
            text={`${what}${mass_kg === null ? '' : `, ${inUnits(mass_kg, 'kg', units)}`}${note ? `: ${note}` : ''}`}
          />
        ))}
      </PaperPart>
      <PaperPart title="Labels" shown={work.labels.length > 0}>
        {work.labels.map(({ text, where }, i) => (
          <Boxed key={i} text={`\u201c${text}\u201d ${where}`} />
        ))}
      </PaperPart>
    </>
  );
}

function Steps({ work, proposal }: { work: Work; proposal: Proposal }) {
  const pretty = usePretty();
  const units = useUnits();
  const ticks = ticksOf(proposal);
  return (
    <PaperPart title="Steps" shown={work.steps.length > 0}>
      {work.steps.map((step, i) => (
        <View key={step.key} className="break-inside-avoid">
          {work.steps[i - 1]?.phase === step.phase ? null : (
            <Heading level={3} look="head" className="pt-3">
              {PHASE_WORDS[step.phase]}
            </Heading>
          )}
          <Boxed
            done={ticks[step.key]?.state === 'done'}
            text={`${step.n}. ${pretty(step.text)}${step.licensed ? ' Licensed work.' : ''}${step.expect ? ` Read: ________ (${bandText(step.expect, units)})` : ''}`}
          />
        </View>
      ))}
    </PaperPart>
  );
}

/** A line with a box before it. */
const Boxed = ({ text, done = false }: { text: string; done?: boolean }) => (
  <View className="flex-row gap-3 border-b border-rule py-1">
    <View className={`mt-1 h-[16px] w-[16px] border-2 border-ink ${done ? 'bg-ink' : ''}`} />
    <T className="min-w-0 flex-1">{text}</T>
  </View>
);
