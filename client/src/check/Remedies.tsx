import { aspectsOf, eachPart, keyOf, neededFor, type Finding, type Remedy } from '@true-lantern/core';
import { router } from 'expo-router';
import { View } from 'react-native';
import { saveProposal } from '../ui/save-proposal';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { Button } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { useAnswer } from '../workers/engine';

/** The smallest changes that would make it hold, each verified; "Try" makes a proposal of one. */
export function Remedies({ site, finding }: { site: OpenSite; finding: Finding }) {
  const pretty = usePretty();
  const { data, error } = useAnswer<'remedies'>({
    ask: 'remedies',
    model: site.judged,
    finding,
    before: site.findings,
  });
  const mayWrite = useMayWrite();
  if (finding.verdict !== 'over' && finding.verdict !== 'tight') return null;
  const placed = eachPart(site.judged.system).find(({ part }) => part.id === finding.subject);
  const attempt = (remedy: Remedy) => {
    saveProposal(site, remedy.title, remedy.changes);
  };
  return (
    <View className="border-t-2 border-ink pt-3">
      <Heading level={3} look="head">
        What would fix it
      </Heading>
      {error ? <T look="fact">{error.message}</T> : null}
      {!data && !error ? <T look="fact">Trying changes ...</T> : null}
      {data?.length === 0 ? <T testID="needed">{pretty(neededFor(site.judged, finding))}</T> : null}
      {data?.map((remedy) => (
        <View
          key={`${keyOf(finding)}${remedy.title}`}
          className="flex-row items-center gap-3 border-b border-rule py-2"
        >
          <View className="min-w-0 flex-1">
            <T>{pretty(remedy.title)}</T>
            <T look="fact">{pretty(remedy.detail)}</T>
          </View>
          {mayWrite ? (
            <Button
              label="Try"
              kind="second"
              className="min-h-[48px]"
              aria-label={`Try: ${remedy.title}`}
              onPress={() => attempt(remedy)}
            />
          ) : null}
        </View>
      ))}
      {placed && aspectsOf(placed.kind).length > 0 ? (
        <Button
          label="Replacement spec"
          kind="plain"
          className="self-start px-0"
          onPress={() => router.navigate(`/site/${site.id}/plan/replace?part=${encodeURIComponent(placed.part.id)}`)}
        />
      ) : null}
    </View>
  );
}
