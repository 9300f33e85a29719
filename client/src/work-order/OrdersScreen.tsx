import { counted } from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { momentText } from '../ui/dates';
import { useOpenSite } from '../data/open-site';
import { openProposals, ticksOf } from '../data/work';
import { Button, Row } from '../ui/controls';
import { Heading, T } from '../ui/text';

/** What can be worked: each open proposal, how far it is, and what was fitted before. */
export function OrdersScreen() {
  const site = useOpenSite();
  const open = openProposals(site);
  const closed = (site.file.proposals ?? []).filter((proposal) => proposal.closed);
  const started = open.filter((proposal) => Object.keys(ticksOf(proposal)).length > 0);
  const go = (id: string) => router.navigate(`/site/${site.id}/install/${encodeURIComponent(id)}`);
  return (
    <ScrollView>
      <View className="max-w-[860px] pb-10">
        <Heading look="lead" className="px-[18px] pb-2 pt-4">
          {open.length === 0
            ? 'No proposals yet, so there is nothing to install.'
            : started.length > 0
              ? `${counted(started.length, 'order')} begun.`
              : 'Which proposal will you install?'}
        </Heading>
        {[...started, ...open.filter((one) => !started.includes(one))].map((proposal) => {
          const ticks = Object.values(ticksOf(proposal));
          const last = ticks
            .map(({ at }) => at ?? '')
            .sort()
            .at(-1);
          return (
            <Row key={proposal.id} testID={`order-${proposal.id}`} onPress={() => go(proposal.id)}>
              <View className="min-w-0 flex-1">
                <T look="head" className="text-second">
                  {proposal.title}
                </T>
                <T look="fact">
                  {ticks.length === 0
                    ? 'not begun'
                    : `${counted(ticks.length, 'step')} ticked${last ? `, last ${momentText(last)}` : ''}`}
                </T>
              </View>
            </Row>
          );
        })}
        {closed.length > 0 ? (
          <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
            Done
          </Heading>
        ) : null}
        {closed.map(({ id, title, closed: end }) => (
          <View key={id} className="min-h-[56px] justify-center border-b border-rule px-[18px] py-2">
            <T look="head">{title}</T>
            <T look="fact">
              {end?.as === 'overtaken' ? 'replaced by another' : 'installed'}
              {end?.at ? `, ${momentText(end.at)}` : ''}
              {end?.by ? `, ${end.by}` : ''}
            </T>
          </View>
        ))}
        {open.length === 0 ? (
          <View className="px-[18px] pt-4">
            <Button label="Go to Plan" onPress={() => router.navigate(`/site/${site.id}/plan`)} />
          </View>
        ) : null}
      </View>
    </ScrollView>
  );
}
