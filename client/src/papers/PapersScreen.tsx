import { AS_FOUND, MOST_OPTIONS, namesOfProposals, yearsOfLog, type Proposal } from '@true-lantern/core';
import { seesPrices } from '@true-lantern/wire';
import { router, type Href } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useFirm } from '../data/firm';
import { useOpenSite } from '../data/open-site';
import { usePerson } from '../data/session';
import { isSigned, visitsOf } from '../data/visits';
import { openProposals } from '../data/work';
import { Button, Chip, Row } from '../ui/controls';
import { shortDay } from '../ui/dates';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';

/** Every paper that this site can give, in the order in which a job needs them. */
export function PapersScreen() {
  const site = useOpenSite();
  const years = yearsOfLog(site.file).slice(0, YEARS);
  const visits = [...visitsOf(site)].reverse();
  const of = (kind: string, about: string): Href => `/papers/${site.id}/${kind}/${encodeURIComponent(about)}`;
  const paper = (proposal: string, which = ''): Href => `/paper/${site.id}/${encodeURIComponent(proposal)}${which}`;
  const proposals = openProposals(site);
  return (
    <View className="flex-1">
      <Top title="Papers" onBack={() => router.navigate(`/site/${site.id}/more`)} />
      <ScrollView>
        <View className="max-w-[640px] pb-10">
          <T look="fact" className="px-[18px] pt-3">
            Each opens as a page, on this device. As a PDF it needs a signal.
          </T>
          <Group title="The system as found">
            <Line
              title="Survey report"
              fact="every part, with where its figures come from"
              to={of('survey', AS_FOUND)}
            />
            <Line title="Check report" fact="every finding with its working" to={of('check', AS_FOUND)} />
            {(site.model.system.roofs ?? []).map(({ id, label }) => (
              <Line
                key={id}
                title={`Marking out: ${label ?? 'roof'}`}
                fact="the roof to scale, distances from one corner"
                to={of('roof', id)}
              />
            ))}
          </Group>
          {proposals.length > 0 ? (
            <Offers proposals={proposals} to={(ids) => of('offer', namesOfProposals(ids))} />
          ) : null}
          {proposals.map(({ id, title }) => (
            <Group key={id} title={title}>
              <Line title="Check report" fact="with this proposal" to={of('check', id)} />
              <Line title="Parts and cuts" fact="kit, cables to cut, labels, tools" to={of('parts', id)} />
              <Line title="Work sheet" fact="every step with a box to tick" to={paper(id, '/work')} />
              <Line title="Proposal" fact="one sheet with the Line as it will be" to={paper(id)} />
            </Group>
          ))}
          <Group title="Records">
            {visits.map((visit) => (
              <Line
                key={visit.id}
                title={`Commissioning record${visit.at ? `, ${shortDay(visit.at)}` : ''}`}
                fact={isSigned(visit) ? 'signed' : 'not signed yet'}
                to={`/paper/${site.id}/visit/${encodeURIComponent(visit.id)}`}
              />
            ))}
            <Line title="Hand-over" fact="what the customer keeps" to={of('handover', AS_FOUND)} />
            {years.map((year) => (
              <Line
                key={year}
                title={`Log of ${year}`}
                fact="everything noted that year"
                to={of('log', String(year))}
              />
            ))}
          </Group>
        </View>
      </ScrollView>
    </View>
  );
}

/** Older logs are read in the log itself. */
const YEARS = 8;

const Group = ({ title, children }: { title: string; children: React.ReactNode }) => (
  <View className="pt-5">
    <Heading level={2} look="station" className="px-[18px] pb-1">
      {title}
    </Heading>
    {children}
  </View>
);

const Line = ({ title, fact, to }: { title: string; fact: string; to: Href }) => (
  <Row aria-label={title} role="link" onPress={() => router.navigate(to)}>
    <View className="min-w-0 flex-1">
      <T look="head">{title}</T>
      <T look="fact">{fact}</T>
    </View>
  </Row>
);

/** Which proposals stand side by side on the offer, at most three. */
function Offers({ proposals, to }: { proposals: readonly Proposal[]; to(ids: string[]): Href }) {
  const { role } = usePerson();
  const { firm } = useFirm();
  const [chosen, setChosen] = useState<string[]>(() => proposals.slice(0, MOST_OPTIONS).map(({ id }) => id));
  if (!seesPrices(role, firm?.sheet ?? {}))
    return (
      <Group title="Offer">
        <T look="fact" className="px-[18px] py-2">
          An offer shows prices, and they are hidden from you. Ask an owner of the firm.
        </T>
      </Group>
    );
  const toggle = (id: string) =>
    setChosen((ids) =>
      ids.includes(id) ? ids.filter((one) => one !== id) : ids.length < MOST_OPTIONS ? [...ids, id] : ids,
    );
  return (
    <Group title="Offer">
      <View className="gap-3 px-[18px] py-2">
        <T look="fact">{`For the customer: up to ${MOST_OPTIONS} options side by side, with tax and a place to sign.`}</T>
        <View className="flex-row flex-wrap gap-2">
          {proposals.map(({ id, title }) => (
            <Chip key={id} many label={title} on={chosen.includes(id)} onPress={() => toggle(id)} />
          ))}
        </View>
        <Button
          kind="main"
          label={chosen.length > 1 ? `Offer with ${chosen.length} options` : 'Offer'}
          disabled={chosen.length === 0}
          onPress={() => router.navigate(to(proposals.flatMap(({ id }) => (chosen.includes(id) ? [id] : []))))}
        />
      </View>
    </Group>
  );
}
