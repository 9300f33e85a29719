import {
  cautionsOfWork,
  keyOf,
  same,
  sentenceOf,
  totalsWithTax,
  type Finding,
  type PartsList,
  type Model,
  type Proposal,
  type System,
  settingChanges,
  settingName,
  settingText,
} from '@true-lantern/core';
import { View } from 'react-native';
import { useFirm } from '../data/firm';
import { useShelf } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { PaperPage, PaperPart, PaperSheet, PLANNING_VALUES } from '../ui/paper';
import { BayDrawing } from '../ui/bay-drawing';
import { T } from '../ui/text';
import { useUnits } from '../data/units';
import { usePretty, withUnit } from '../ui/units';
import { Accepted } from './Accept';
import { SiteLine } from '../line/SiteLine';
import { BuyList, usePartsList } from './BuyList';
import { useProposed } from './proposed';
import { comparisonText } from './words';

/** A proposal as the firm's own paper: black on white, nothing of the app on it. */
export const PaperScreen = ({ siteId, proposalId }: { siteId: string; proposalId: string }) => (
  <PaperPage
    siteId={siteId}
    find={({ file }) => file.proposals?.find(({ id }) => id === proposalId)}
    gone="This proposal is not here."
    print="Print or save as PDF"
    pdf="settings"
    about={proposalId}
    back={`/site/${siteId}/plan/${encodeURIComponent(proposalId)}`}
  >
    {(site, proposal) => <Sheet site={site} proposal={proposal} />}
  </PaperPage>
);

function Sheet({ site, proposal }: { site: OpenSite; proposal: Proposal }) {
  const { items } = useShelf();
  const { model, result, states } = useProposed(site, proposal);
  const { system } = model;
  const partsList = usePartsList(site.model.system, system, items);
  const lost = states.filter(({ fault }) => fault !== null).length;
  const { bank } = system;
  const { name, kind } = site.file.site;
  return (
    <PaperSheet testID="paper" title={proposal.title} under={`${name}${kind ? `, ${kind}` : ''}`} offer>
      <T>{comparisonText(result)}</T>
      {lost > 0 ? (
        <T className="pt-2">{`${lost} changes of this proposal no longer match the survey and are left out of this paper.`}</T>
      ) : null}
      <View className="-mx-[18px] pt-3">
        <SiteLine site={site} proposed={{ system, findings: result.after }} />
      </View>
      <Findings title="What it fixes" of={site.model} findings={result.cured} />
      <Findings title="Still over" of={model} findings={[...result.broken, ...result.worse, ...result.remaining]} />
      <Findings title="Still unknown until measured" of={site.model} findings={result.hidden} />
      <View className="-mx-[18px]">
        <BuyList partsList={partsList} />
      </View>
      <WithTax partsList={partsList} />
      {bank && !same(bank, site.model.system.bank) ? (
        <View className="break-inside-avoid pt-6">
          <BayDrawing system={system} bank={bank} />
        </View>
      ) : null}
      <Settings before={site.model.system} after={system} />
      <List title="Cautions" items={cautionsOfWork(site.model, { system }).map((text) => ({ key: text, text }))} />
      <Foot proposal={proposal} />
    </PaperSheet>
  );
}

function Settings({ before, after }: { before: System; after: System }) {
  const units = useUnits();
  const settings = settingChanges(before, after);
  if (settings.length === 0) return null;
  return (
    <View testID="paper-settings">
      <PaperPart title="Settings">
        {settings.map((one) => (
          <View key={`${one.id} ${one.setting}`} className="flex-row gap-3 border-b border-rule py-1">
            <T className="min-w-0 flex-1">{`${one.device}: ${settingName(one.setting)}`}</T>
            <T className="font-semi">{settingText(one.setting, one.after, units)}</T>
            <T look="fact" className="w-32 text-right">
              {one.before === null ? 'not recorded before' : `was ${settingText(one.setting, one.before, units)}`}
            </T>
          </View>
        ))}
        <T look="fact">The maker&apos;s manual overrides each of these.</T>
      </PaperPart>
    </View>
  );
}

/** What is paid in the end, where the firm adds tax. */
function WithTax({ partsList }: { partsList: PartsList }) {
  const { firm } = useFirm();
  const tax_pct = firm?.sheet.tax_pct;
  if (!tax_pct) return null;
  return Object.entries(totalsWithTax(partsList.totals, tax_pct)).map(([currency, { tax, gross }]) => (
    <View key={currency} className="gap-1 pt-1" testID="with-tax">
      <View className="flex-row justify-between">
        <T>{`Tax ${tax_pct}\u00a0%`}</T>
        <T>{withUnit(tax, currency, 6)}</T>
      </View>
      <View className="flex-row justify-between border-t border-ink pt-1">
        <T look="head">Total with tax</T>
        <T look="head">{withUnit(gross, currency, 6)}</T>
      </View>
    </View>
  ));
}

/** What is paid and how, who signs, who the firm is. */
function Foot({ proposal }: { proposal: Proposal }) {
  const { firm } = useFirm();
  return (
    <View className="gap-6 pt-8">
      <T look="fact">{PLANNING_VALUES}</T>
      {firm?.sheet.payment ? <T>{firm.sheet.payment}</T> : null}
      <View className="flex-row gap-8 pt-8">
        <Signed who="For the firm" />
        {proposal.accepted ? (
          <View className="flex-1">
            <Accepted proposal={proposal} />
          </View>
        ) : (
          <Signed who="For the customer" />
        )}
      </View>
      {firm?.sheet.registration ? <T look="small">{firm.sheet.registration}</T> : null}
    </View>
  );
}

const Findings = ({ title, of, findings }: { title: string; of: Model; findings: readonly Finding[] }) => (
  <List title={title} items={findings.map((finding) => ({ key: keyOf(finding), text: sentenceOf(of, finding) }))} />
);

function List({ title, items }: { title: string; items: { key: string; text: string }[] }) {
  const pretty = usePretty();
  return (
    <PaperPart title={title} shown={items.length > 0}>
      {items.map(({ key, text }) => (
        <T key={key} className="border-b border-rule py-1">
          {pretty(text)}
        </T>
      ))}
    </PaperPart>
  );
}

const Signed = ({ who }: { who: string }) => (
  <View className="flex-1 border-t border-ink pt-1">
    <T look="fact">{`${who}: name, date, signature`}</T>
  </View>
);
