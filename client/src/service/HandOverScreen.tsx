import { counted, type HandOver } from '@true-lantern/core';
import type { HandOverMade } from '@true-lantern/wire';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { endHandOver, makeHandOver, useGivenAgain, useHandOver } from '../data/given';
import { useOpenSite } from '../data/open-site';

import { useMayWrite } from '../data/session';
import { openProposals } from '../data/work';
import { useAttempt } from '../ui/attempt';
import { Button, Chip, Plain, Waiting } from '../ui/controls';
import { TextField } from '../ui/field';
import { LinksOut } from '../ui/links-out';
import { Qr } from '../ui/qr';
import { Heading, T } from '../ui/text';
import { ToldOnce } from '../ui/told-once';
import { Top } from '../ui/top';
import { WORDS } from '../ui/words';

const OPEN_D: readonly (readonly [days: number, label: string])[] = [
  [90, '3 months'],
  [365, 'A year'],
  [3650, 'Ten years'],
];

/** What the customer keeps: the page as it would be today, what the firm adds, and the addresses that are out. */
export function HandOverScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  // What was signed is in the system already; a proposal that is being built can be handed over ahead of it.
  const proposals = openProposals(site);
  const [proposal, setProposal] = useState<string | null>(null);
  const { data, error, isPending, refetch } = useHandOver(site.id, proposal);
  return (
    <View className="flex-1">
      <Top title="Hand-over" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[860px] pb-10">
          <Heading look="lead" className="px-[18px] pt-4" testID="handover-lead">
            A page for the customer, and a sheet for the locker door
          </Heading>
          {proposals.length > 0 ? (
            <View role="radiogroup" aria-label="Which system" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
              <Chip label="As it is" on={proposal === null} onPress={() => setProposal(null)} />
              {proposals.map(({ id, title }) => (
                <Chip key={id} label={title} on={proposal === id} onPress={() => setProposal(id)} />
              ))}
            </View>
          ) : null}
          {isPending ? <Waiting what="Loading the page ..." /> : null}
          {error && !data ? (
            <Plain title="The page could not be loaded." text={error.message}>
              <Button label={WORDS.tryAgain} kind="main" onPress={() => void refetch()} />
            </Plain>
          ) : null}
          {data ? (
            <>
              <Open lines={data.page.open} />
              <Told page={data.page} />
              {mayWrite ? <Give key={proposal ?? ''} siteId={site.id} proposal={proposal} /> : null}
              <LinksOut
                className="px-[18px] pt-7"
                title="Shared pages"
                what="page"
                links={data.links}
                end={mayWrite ? (id) => endHandOver(site.id, id) : undefined}
              />
            </>
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}

/** A system with something dangerous is mended first: said before the page goes out, to who hands it over. */
function Open({ lines }: { lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <View className="mx-[18px] mt-4 gap-2 border-2 border-second px-4 py-3" role="alert" testID="not-ready">
      <T look="head" className="text-second">
        Not ready to hand over: {counted(lines.length, 'finding')} of danger
      </T>
      {lines.slice(0, 5).map((line) => (
        <T key={line}>{line}</T>
      ))}
    </View>
  );
}

function Told({ page }: { page: HandOver }) {
  const group = (title: string, lines: readonly string[]) =>
    lines.length === 0 ? null : (
      <View className="gap-1 px-[18px] pt-5">
        <Heading level={2} look="station">
          {title}
        </Heading>
        {lines.map((line) => (
          <T key={line}>{line}</T>
        ))}
      </View>
    );
  return (
    <View testID="handover-page">
      {group(
        'In an emergency',
        page.off.map((line, i) => `${i + 1}. ${line}`),
      )}
      {group('What you have', page.have)}
      {group('What may run at the same time', page.atOnce)}
      {group('Without sun', page.withoutSun ? [page.withoutSun] : [])}
      {group('What not to do', page.never)}
      {group(
        'What you do yourself',
        page.jobs.map(({ what, every }) => `${what}: ${every}.`),
      )}
      {group('Where the switches are', page.isolators)}
    </View>
  );
}

function Give({ siteId, proposal }: { siteId: string; proposal: string | null }) {
  const [call, setCall] = useState('');
  const [lights, setLights] = useState('');
  const [more, setMore] = useState('');
  const [days, setDays] = useState(365);
  const { made, trouble, attempt } = useAttempt<HandOverMade>(useGivenAgain());
  const make = () => attempt(() => makeHandOver(siteId, { call, lights, more, days, proposal }));
  return (
    <View className="gap-3 px-[18px] pt-7">
      <Heading level={2} look="station">
        Your words
      </Heading>
      <TextField label="Whom to call, and when" value={call} onChangeText={setCall} multiline />
      <TextField label="What each light means" value={lights} onChangeText={setLights} multiline />
      <TextField label="Anything else, in the customer’s language" value={more} onChangeText={setMore} multiline />
      <View role="radiogroup" aria-label="How long the page is open" className="flex-row flex-wrap gap-2">
        {OPEN_D.map(([value, label]) => (
          <Chip key={value} label={label} on={days === value} onPress={() => setDays(value)} />
        ))}
      </View>
      {trouble ? <T role="alert">{trouble}</T> : null}
      <Button label="Make the page" kind="main" onPress={() => void make()} />
      {made ? <Made made={made} /> : null}
    </View>
  );
}

const Made = ({ made }: { made: HandOverMade }) => (
  <ToldOnce
    text={made.address}
    copy="Copy address"
    says="It is shown only once. Anyone who has it can read the page. The page stays as it is today."
    shown={<Qr code={made.qr} label="QR code of the page" />}
    testID="handover-address"
  >
    <Button label="Open the page" className="grow" onPress={() => window.open(made.address)} />
    <Button label="Print the locker sheet" className="grow" onPress={() => window.open(`${made.address}/sheet`)} />
  </ToldOnce>
);
