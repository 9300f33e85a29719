import { counted, type FleetSpan } from '@true-lantern/core';
import type { FleetEntry } from '@true-lantern/wire';
import { router } from 'expo-router';
import Papa from 'papaparse';
import { useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { saveTextFile } from '../data/files';
import { useAlerts, useKeepAlerts } from '../data/alerts';
import { stopFleet, useFleet, useFleetAgain, workOutFleet } from '../data/fleet';
import { useMayWrite } from '../data/session';
import { useAttempt } from '../ui/attempt';
import { Button, Chip, Plain, Row, Waiting } from '../ui/controls';
import { momentText, shortDay } from '../ui/dates';
import { Page } from '../ui/page';
import { Heading, T } from '../ui/text';
import { FleetMap } from './FleetMap';
import { AT_RISK, chanceText } from './risk';
import { WORDS } from '../ui/words';

const SPANS: readonly (readonly [FleetSpan, string])[] = [
  ['week', 'Next 7 days'],
  ['winter', 'To the end of winter'],
];
/** Who of the firm's sites may lose power: the likeliest first, with what would help. */
export function FleetScreen() {
  const [span, setSpan] = useState<FleetSpan>('week');
  const [map, setMap] = useState(false);
  const mayWrite = useMayWrite();
  const again = useFleetAgain();
  const { data: alerts } = useAlerts();
  const keep = useKeepAlerts();
  const { data, error, isPending, refetch } = useFleet(span);
  const { trouble, attempt } = useAttempt<{ asked: number }>(again);
  const sites = [...(data?.sites ?? [])].sort((a, b) => (b.found?.dark ?? -1) - (a.found?.dark ?? -1));
  const stale = sites.filter((site) => site.stale).length;
  useAskedOnce(span, data !== undefined && mayWrite && stale > 0 && data.waiting === 0, () => {
    void attempt(() => workOutFleet(span));
  });
  return (
    <Page title="Risk of power cuts" onBack={() => router.navigate('/')}>
      <Heading look="lead" className="px-[18px] pt-4" testID="fleet-lead">
        {data ? leadOf(sites) : ' '}
      </Heading>
      <View className="flex-row flex-wrap gap-2 px-[18px] pt-3">
        <View role="radiogroup" aria-label="How far ahead" className="flex-row flex-wrap gap-2">
          {SPANS.map(([one, label]) => (
            <Chip key={one} label={label} on={span === one} onPress={() => setSpan(one)} />
          ))}
        </View>
        <View role="group" aria-label="View">
          <Chip many label="Map" on={map} onPress={() => setMap(!map)} />
        </View>
      </View>
      {isPending ? <Waiting what="Loading the sites ..." /> : null}
      {error && !data ? (
        <Plain title="The sites could not be loaded." text={error.message}>
          <Button label={WORDS.tryAgain} kind="main" onPress={() => void refetch()} />
        </Plain>
      ) : null}
      {data && data.waiting > 0 ? (
        <View className="flex-row items-center gap-3 px-[18px] pt-3" role="status" testID="fleet-waiting">
          <T className="min-w-0 flex-1">{`${counted(data.waiting, 'site')} still being calculated.`}</T>
          {mayWrite ? (
            <Button label={WORDS.stop} onPress={() => void attempt(() => stopFleet().then(() => undefined))} />
          ) : null}
        </View>
      ) : null}
      {trouble ? (
        <T role="alert" className="px-[18px] pt-3">
          {trouble}
        </T>
      ) : null}
      {map ? <FleetMap sites={sites} /> : null}
      <View className="pt-3">
        {sites.map((site) => (
          <SiteRow key={site.id} site={site} />
        ))}
      </View>
      {sites.length > 0 ? (
        <View className="flex-row flex-wrap gap-3 px-[18px] pt-5">
          <Button label={WORDS.exportCsv} className="grow" onPress={() => exportCsv(span, sites)} />
          {mayWrite && stale > 0 ? (
            <Button label="Calculate again" className="grow" onPress={() => void attempt(() => workOutFleet(span))} />
          ) : null}
        </View>
      ) : null}
      {alerts?.mails ? (
        <View role="group" aria-label="Daily list" className="flex-row flex-wrap px-[18px] pt-5">
          <Chip
            many
            label="E-mail me this list every afternoon"
            on={alerts.alerts.digest}
            onPress={() => void keep({ ...alerts.alerts, digest: !alerts.alerts.digest }).catch(() => undefined)}
          />
        </View>
      ) : null}
      <T look="fact" className="px-[18px] pt-5">
        Simulated from the last known state of charge over 200 years of the place’s climate. This is not a weather
        forecast.
      </T>
    </Page>
  );
}

/** What has never been worked out is asked for once, without a press. */
function useAskedOnce(span: FleetSpan, ask: boolean, act: () => void) {
  const asked = useRef(new Set<FleetSpan>());
  useEffect(() => {
    if (!ask || asked.current.has(span)) return;
    asked.current.add(span);
    act();
  });
}

function leadOf(sites: readonly FleetEntry[]): string {
  const known = sites.filter(({ found }) => found && found.dark !== null);
  const risk = known.filter(({ found }) => (found?.dark ?? 0) >= AT_RISK);
  const [first] = risk;
  if (sites.length === 0) return 'This firm has no sites yet.';
  if (known.length === 0) return 'Nothing is calculated yet.';
  if (!first) return `No site is at risk: ${counted(known.length, 'site')} worked out.`;
  return `${counted(risk.length, 'site')} of ${known.length} at risk, first ${first.name}.`;
}

function SiteRow({ site }: { site: FleetEntry }) {
  const { found, headline, heard, at, stale } = site;
  const dark = found?.dark ?? null;
  const risk = (dark ?? 0) >= AT_RISK;
  const help = risk ? found?.lines[2] : undefined;
  return (
    <Row
      testID={`fleet-${site.name}`}
      aria-label={`Days ahead at ${site.name}`}
      onPress={() => router.push(`/site/${site.id}/ahead`)}
      className={risk ? 'border-l-[5px] border-l-ink pl-[13px]' : ''}
    >
      <View className="min-w-0 flex-1">
        <T look="head">{site.name}</T>
        {found?.missing ? <T look="fact">Not enough is recorded to simulate this site.</T> : null}
        {found && dark !== null ? (
          <T look="fact">
            {[
              found.firstDark ? `first possible on ${shortDay(found.firstDark.date)}` : '',
              `bank at ${Math.round(100 * found.soc)}\u00a0%${found.assumed ? ', assumed' : ''}`,
            ]
              .filter(Boolean)
              .join(' \u00b7 ')}
          </T>
        ) : null}
        {help ? <T>{help}</T> : null}
        <T look="small">
          {[
            heard ? `heard ${momentText(heard)}` : '',
            found && found.due > 0 ? `${found.due} due` : '',
            headline && headline.over > 0 ? `${headline.over} over` : '',
            at && stale ? `as of ${momentText(at)}` : '',
          ]
            .filter(Boolean)
            .join(' \u00b7 ')}
        </T>
      </View>
      <T look="figure">{dark === null ? '?' : chanceText(dark)}</T>
    </Row>
  );
}

function exportCsv(span: FleetSpan, sites: readonly FleetEntry[]) {
  const rows = sites.map(({ name, found, heard, headline, at }) => ({
    site: name,
    chance: found?.dark ?? '',
    first: found?.firstDark?.date ?? '',
    state_of_charge: found?.soc ?? '',
    assumed: found ? (found.assumed ? 'yes' : 'no') : '',
    helps: found?.lines[2] ?? '',
    last_heard: heard ?? '',
    due: found?.due ?? '',
    over: headline?.over ?? '',
    worked_out: at ?? '',
  }));
  // A name that begins like a formula is no formula in a spreadsheet.
  const text = Papa.unparse(rows, { escapeFormulae: true });
  return saveTextFile(`risk of power cuts, ${span}.csv`, `${text}\r\n`, 'text/csv');
}
