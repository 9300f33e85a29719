import {
  cautionsOf,
  eachPart,
  keyOf,
  same,
  sentenceOf,
  type Proposal,
  settingChanges,
  settingName,
  settingUnit,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { useFirm } from '../data/firm';
import { useShelf } from '../data/shelf';
import { useSite, type OpenSite } from '../data/site';
import { Button, Plain, Waiting } from '../kit/controls';
import { PaperGround } from '../kit/ground';
import { PaperHead } from '../kit/paper-head';
import { Heading, T } from '../kit/text';
import { useUnits, type Units } from '../data/units';
import { inUnits, usePretty } from '../kit/units';
import { SiteLine } from '../line/SiteLine';
import { FitDrawing } from './FitDrawing';
import { KitList, useKit } from './KitList';
import { PdfButton, PrintButton, usePaperSize } from '../kit/print';
import { useProposed } from './proposed';
import { comparisonText } from './words';

/** A proposal as the firm's own paper: black on white, nothing of the app on it. */
export function PaperScreen({ siteId, proposalId }: { siteId: string; proposalId: string }) {
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
            <PrintButton label="Print or save as PDF" />
            <PdfButton siteId={siteId} kind="settings" about={proposalId} />
            <Button
              label="Back"
              onPress={() => router.navigate(`/site/${siteId}/plan/${encodeURIComponent(proposalId)}`)}
            />
          </View>
          <Sheet site={site} proposal={proposal} />
        </View>
      </ScrollView>
    </PaperGround>
  );
}

function Sheet({ site, proposal }: { site: OpenSite; proposal: Proposal }) {
  const units = useUnits();
  const { firm } = useFirm();
  usePaperSize(firm?.sheet.paper);
  const { items } = useShelf();
  const { model, result, states } = useProposed(site, proposal);
  const { system } = model;
  const kit = useKit(site.model.system, system, items);
  const settings = settingChanges(site.model.system, system);
  // Cautions of what the work touches: they are never left off.
  const had = new Map(eachPart(site.model.system).map(({ part }) => [part.id, part]));
  const cautions = [
    ...new Set(
      eachPart(system)
        .filter(({ part }) => !same(had.get(part.id), part))
        .flatMap(({ kind, part }) => cautionsOf(kind, part as never)),
    ),
  ];
  const lost = states.filter(({ fault }) => fault !== null).length;
  const { bank } = system;
  return (
    <View nativeID="paper" testID="paper">
      <PaperHead />
      <Heading look="lead" className="pt-5">
        {proposal.title}
      </Heading>
      <T look="fact" className="pb-3">
        {`${site.file.site.name}${site.file.site.kind ? `, ${site.file.site.kind}` : ''}`}
      </T>
      <T>{comparisonText(result)}</T>
      {lost > 0 ? (
        <T className="pt-2">{`${lost} changes of this proposal no longer apply to the system as surveyed; they are not in this paper.`}</T>
      ) : null}
      <View className="-mx-[18px] pt-3">
        <SiteLine site={site} proposed={{ system, findings: result.after }} />
      </View>
      <List
        title="What it cures"
        items={result.cured.map((finding) => ({ key: keyOf(finding), text: sentenceOf(site.model, finding) }))}
      />
      <List
        title="What stays over, and is to be known"
        items={[...result.broken, ...result.worse, ...result.remaining].map((finding) => ({
          key: keyOf(finding),
          text: sentenceOf(model, finding),
        }))}
      />
      <List
        title="What cannot be said before it is read"
        items={result.hidden.map((finding) => ({ key: keyOf(finding), text: sentenceOf(site.model, finding) }))}
      />
      <View className="-mx-[18px]">
        <KitList kit={kit} />
      </View>
      {bank && !same(bank, site.model.system.bank) ? (
        <View className="break-inside-avoid pt-6">
          <FitDrawing bank={bank} />
        </View>
      ) : null}
      {settings.length > 0 ? (
        <View className="pt-6" testID="paper-settings">
          <Heading level={2} look="station">
            Settings
          </Heading>
          {settings.map(({ id, device, setting, before, after }) => (
            <View key={`${id} ${setting}`} className="flex-row gap-3 border-b border-rule py-1">
              <T className="min-w-0 flex-1">{`${device}: ${settingName(setting)}`}</T>
              <T className="font-semi">{shown(after, setting, units)}</T>
              <T look="fact" className="w-32 text-right">
                {before === null ? 'not read before' : `was ${shown(before, setting, units)}`}
              </T>
            </View>
          ))}
          <T look="fact">The maker&apos;s manual overrides each of these.</T>
        </View>
      ) : null}
      <List title="Cautions" items={cautions.map((text) => ({ key: text, text }))} />
      <View className="gap-6 pt-8">
        <T look="fact">
          Figures are planning values for a competent person; local codes, the maker&apos;s manual and a licensed
          electrician come first where the law asks for one.
        </T>
        {firm?.sheet.payment ? <T>{firm.sheet.payment}</T> : null}
        <View className="flex-row gap-8 pt-8">
          <Signed who="For the firm" />
          <Signed who="For the customer" />
        </View>
        {firm?.sheet.registration ? <T look="small">{firm.sheet.registration}</T> : null}
      </View>
    </View>
  );
}

const shown = (value: unknown, setting: string, units: Units) =>
  typeof value === 'number'
    ? value === 0 && setting === 'equalise_V'
      ? 'off'
      : inUnits(value, settingUnit(setting), units, 4)
    : String(value);

function List({ title, items }: { title: string; items: { key: string; text: string }[] }) {
  const pretty = usePretty();
  if (items.length === 0) return null;
  return (
    <View className="pt-5">
      <Heading level={2} look="station">
        {title}
      </Heading>
      {items.map(({ key, text }) => (
        <T key={key} className="border-b border-rule py-1">
          {pretty(text)}
        </T>
      ))}
    </View>
  );
}

const Signed = ({ who }: { who: string }) => (
  <View className="flex-1 border-t border-ink pt-1">
    <T look="fact">{`${who}: name, date, signature`}</T>
  </View>
);
