import { FaultError, modelOf, type Proposal, bandText } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo } from 'react';
import { ScrollView, View } from 'react-native';
import { useFirm } from '../data/firm';
import { useShelf } from '../data/shelf';
import { useSite, type OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { ticksOf } from '../data/work';
import { Button, Plain, Waiting } from '../kit/controls';
import { PaperGround } from '../kit/ground';
import { PaperHead } from '../kit/paper-head';
import { PdfButton, PrintButton, usePaperSize } from '../kit/print';
import { Heading, T } from '../kit/text';
import { inUnits, usePretty, sizeText } from '../kit/units';
import { useAnswer } from '../workers/engine';
import { cutPlace } from './Cuts';
import { PHASE_WORDS } from './phases';

/** The work sheet with boxes, for when the phone dies: kit, cuts, what comes out, every step. */
export function WorkPaper({ siteId, proposalId }: { siteId: string; proposalId: string }) {
  const { site, error } = useSite(siteId);
  if (error && !site) return <Plain title="This site cannot be opened." text={error.message} />;
  if (!site) return <Waiting what="Opening the site ..." />;
  const proposal = site.file.proposals?.find(({ id }) => id === proposalId);
  if (!proposal) return <Plain title="This proposal is not here." />;
  return (
    <PaperGround>
      <ScrollView>
        <View role="main" className="mx-auto w-full max-w-[760px] px-[18px] pb-16 pt-6">
          <View className="flex-row gap-3 pb-6 print:hidden">
            <PrintButton />
            <PdfButton siteId={siteId} kind="work" about={proposalId} />
            <Button
              label="Back"
              onPress={() => router.navigate(`/site/${siteId}/work/${encodeURIComponent(proposalId)}`)}
            />
          </View>
          <Sheet site={site} proposal={proposal} />
        </View>
      </ScrollView>
    </PaperGround>
  );
}

function Sheet({ site, proposal }: { site: OpenSite; proposal: Proposal }) {
  const pretty = usePretty();
  const { firm } = useFirm();
  usePaperSize(firm?.sheet.paper);
  const units = useUnits();
  const { items } = useShelf();
  const after = useMemo(() => {
    try {
      return modelOf(site.file, proposal.id);
    } catch (error) {
      if (error instanceof FaultError) return null;
      throw error;
    }
  }, [site, proposal]);
  const { data: work } = useAnswer<'work'>({
    ask: 'work',
    before: site.model,
    after: after ?? site.model,
    shelf: items,
  });
  if (!after) return <T>This proposal no longer applies, so it has no order.</T>;
  if (!work) return <Waiting what="Working out the order ..." />;
  const ticks = ticksOf(proposal);
  return (
    <View nativeID="paper" testID="work-paper">
      <PaperHead offer={false} />
      <Heading look="lead" className="pt-5">
        {`Work sheet: ${proposal.title}`}
      </Heading>
      <T look="fact" className="pb-3">
        {site.file.site.name}
      </T>
      <Part title="Kit" shown={work.kit.length > 0}>
        {work.kit.map(({ line, what, count }) => (
          <Boxed key={line} text={`${count} \u00d7 ${pretty(what)}`} />
        ))}
      </Part>
      <Part title="Cuts" shown={work.cuts.length > 0}>
        {work.cuts.map((cut) => (
          <Boxed
            key={cut.run}
            text={`${cut.poles * cut.perPole} \u00d7 ${inUnits(cut.cut_m, 'm', units)} of ${sizeText(cut.size, units)}: ${cutPlace(after, cut)}; ${cut.colourNote}`}
          />
        ))}
      </Part>
      <Part title="Comes out" shown={work.removed.length > 0}>
        {work.removed.map(({ id, what, mass_kg, note }, i) => (
          <Boxed
            key={`${id} ${i}`}
            text={`${what}${mass_kg === null ? '' : `, ${inUnits(mass_kg, 'kg', units)}`}${note ? `: ${note}` : ''}`}
          />
        ))}
      </Part>
      <Part title="Labels" shown={work.labels.length > 0}>
        {work.labels.map(({ text, where }, i) => (
          <Boxed key={i} text={`\u201c${text}\u201d ${where}`} />
        ))}
      </Part>
      <Part title="Steps" shown={work.steps.length > 0}>
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
      </Part>
      <T look="fact" className="pt-6">
        Figures are planning values for a competent person; local codes, the maker&apos;s manual and a licensed
        electrician come first where the law asks for one.
      </T>
      <View className="flex-row gap-8 pt-10">
        <View className="flex-1 border-t border-ink pt-1">
          <T look="fact">Worked by: name, date, signature</T>
        </View>
      </View>
    </View>
  );
}

const Part = ({ title, shown, children }: { title: string; shown: boolean; children: React.ReactNode }) =>
  shown ? (
    <View className="pt-4">
      <Heading level={2} look="station">
        {title}
      </Heading>
      {children}
    </View>
  ) : null;

/** A line with a box before it. */
const Boxed = ({ text, done = false }: { text: string; done?: boolean }) => (
  <View className="flex-row gap-3 border-b border-rule py-1">
    <View className={`mt-1 h-[16px] w-[16px] border-2 border-ink ${done ? 'bg-ink' : ''}`} />
    <T className="min-w-0 flex-1">{text}</T>
  </View>
);
