import { bayOf, cautionsOf, nameOfRow, sentenceOf, type Bank, type PartKind, type PartRow } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { FIELDS, KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { findingsAbout, partName, pathName } from '../data/reading';
import { useMayWrite } from '../data/session';
import { rowOfPart, setFields, type OpenSite } from '../data/site';
import { Button, HeavyRule, Plain, Row } from '../ui/controls';
import { FindingDetail } from '../ui/finding-detail';
import { BackArrow } from '../ui/back-arrow';
import { Mark, VERDICT_WORDS } from '../ui/mark';
import { BayDrawing } from '../ui/bay-drawing';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { usePretty } from '../ui/units';
import { useWide } from '../ui/wide';
import { BankShares } from '../entry/BankShares';
import { SchoolSwitch } from '../entry/SchoolSwitch';
import { useEditor } from '../entry/useEditor';
import { FieldRow } from '../entry/FieldRow';
import { Attachments } from '../entry/Attachments';
import { BankNumbers, useRestAndRun } from './BankNumbers';
import { PartActions } from './PartActions';
import { PartReadings } from './PartReadings';
import { WORDS } from '../ui/words';

/** A part opened: what was found to be wrong with it, its nameplate with evidence, and the working behind it all. */
export function PartScreen({ partId, field }: { partId: string; field: string | null }) {
  const site = useOpenSite();
  const row = rowOfPart(site, partId);
  if (!row)
    return (
      <Plain title="Part not found." text={`There is no part "${partId}" here.`}>
        <Button label="Back to the Line" onPress={() => router.navigate(`/site/${site.id}`)} />
      </Plain>
    );
  return <Recorded site={site} row={row} field={field} />;
}

function Recorded({ site, row, field }: { site: OpenSite; row: PartRow; field: string | null }) {
  const partId = nameOfRow(row);
  const specs = FIELDS[row.kind] ?? [];
  const { open, editor } = useEditor({
    site,
    row,
    specs,
    first: field,
    onSave: (set, seen) => setFields(site, seen, set),
  });
  const rest = useRestAndRun(site);
  const mayWrite = useMayWrite();
  return (
    <View className="flex-1">
      <PartHeader row={row} siteId={site.id} />
      <HeavyRule />
      <ScrollView>
        <View className="max-w-[640px] pb-10">
          <Verdicts partId={partId} />
          {row.kind === 'bank' ? <BankNumbers site={site} /> : null}
          <PartReadings site={site} partId={partId} />
          <Attachments subject={partId} />
          <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
            As recorded
          </Heading>
          {specs.map((item) => (
            <FieldRow key={item.path} row={row} spec={item} onOpen={() => open(item.path)} />
          ))}
          {row.kind === 'bank' ? (
            <>
              {rest.panel}
              <BankShares model={site.model} />
              <BayOf site={site} />
            </>
          ) : null}
          {PLATED.has(row.kind) && mayWrite ? (
            <View className="px-[18px] pt-6">
              <Button
                label="Read its nameplate from a photo"
                onPress={() => router.navigate(`/site/${site.id}/plate?part=${encodeURIComponent(partId)}`)}
              />
            </View>
          ) : null}
          {row.kind === 'arrays' || row.kind === 'roofs' ? (
            <View className="px-[18px] pt-6">
              <Button
                label={row.kind === 'roofs' ? 'Draw this roof' : 'Roof: what fits, what shade costs'}
                onPress={() =>
                  router.navigate(
                    `/site/${site.id}/roof${row.kind === 'roofs' ? `?roof=${encodeURIComponent(partId)}` : ''}`,
                  )
                }
              />
            </View>
          ) : null}
          {row.kind === 'arrays' ? (
            <View className="px-[18px] pt-3">
              <Button
                label="Curves and shade"
                onPress={() => router.navigate(`/site/${site.id}/curve/${encodeURIComponent(partId)}`)}
              />
            </View>
          ) : null}
          <PartActions row={row} />
          <Cautions row={row} />
        </View>
      </ScrollView>
      {editor}
      {rest.editor}
    </View>
  );
}

/** The bank in its bay, once both are measured: before, there is nothing to see that the fields do not ask for. */
function BayOf({ site }: { site: OpenSite }) {
  const { system } = site.model;
  const mayWrite = useMayWrite();
  const row = system.bank ? rowOfPart(site, system.bank.id) : null;
  const arrange = (what: string, stands: Bank['stands']) => {
    if (!row) return;
    const was = system.bank?.stands ?? null;
    setFields(site, row, { stands });
    offerUndo(what, () => setFields(site, row, { stands: was }));
  };
  if (!system.bank || typeof bayOf(system, system.bank) === 'string') return null;
  return (
    <View className="px-[18px] pt-6">
      <Heading level={2} look="station" className="pb-2">
        The bay
      </Heading>
      <BayDrawing system={system} bank={system.bank} onArrange={mayWrite && row ? arrange : undefined} />
    </View>
  );
}

/** Kinds whose plates are read. */
const PLATED: ReadonlySet<string> = new Set<PartKind>([
  'moduleTypes',
  'controllers',
  'bank',
  'inverters',
  'chargers',
  'sources',
]);

/** What must be minded at this part, whatever its findings say. */
function Cautions({ row }: { row: PartRow }) {
  const cautions = cautionsOf(row.kind as PartKind, row.body);
  return (
    <View className="gap-2 px-[18px] pt-8">
      {cautions.map((caution) => (
        <T key={caution} look="fact" className="border-l-4 border-ink pl-3 text-ink">
          {caution}
        </T>
      ))}
    </View>
  );
}

function PartHeader({ row, siteId }: { row: PartRow; siteId: string }) {
  const wide = useWide();
  const title = partName(useOpenSite(), nameOfRow(row));
  return (
    <View className={`min-h-[60px] flex-row items-center pr-[18px] ${wide ? 'pl-[18px]' : ''}`}>
      {wide ? null : (
        <BackArrow
          label={WORDS.back}
          onPress={() => (router.canGoBack() ? router.back() : router.navigate(`/site/${siteId}`))}
        />
      )}
      <View className="min-w-0 flex-1 flex-row items-baseline gap-2 py-3">
        <Heading look="lead" className="shrink font-bold">
          {title}
        </Heading>
        <T look="fact">{(KIND_WORDS[row.kind] ?? '').toLowerCase()}</T>
      </View>
    </View>
  );
}

/** Each finding in a line; a tap opens its working. The worst is open from the start; what is OK is folded away. */
function Verdicts({ partId }: { partId: string }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const findings = findingsAbout(site.findings, partId);
  const [open, setOpen] = useState<number | null>(findings[0]?.verdict === 'holds' ? null : 0);
  const [unfolded, setUnfolded] = useState(false);
  const holding = findings.filter(({ verdict }) => verdict === 'holds').length;
  const shown = unfolded ? findings : findings.filter(({ verdict }) => verdict !== 'holds');
  if (findings.length === 0) return null;
  return (
    <View>
      {shown.map((finding, i) =>
        open === i ? (
          <View key={i} className="border-b border-rule bg-well px-[18px]">
            <FindingDetail finding={finding} model={site.judged} nameOf={(path) => pathName(site, path)}>
              <SchoolSwitch site={site} finding={finding} />
            </FindingDetail>
            <Button label={WORDS.close} kind="plain" className="self-start px-0" onPress={() => setOpen(null)} />
          </View>
        ) : (
          <Row key={i} onPress={() => setOpen(i)} aria-expanded={false}>
            <Mark verdict={finding.verdict} />
            <T className="min-w-0 flex-1">{pretty(sentenceOf(site.judged, finding))}</T>
            <T look="fact" className="font-semi">
              {VERDICT_WORDS[finding.verdict]}
            </T>
          </Row>
        ),
      )}
      {holding > 0 && !unfolded ? (
        <Row testID="holding" onPress={() => setUnfolded(true)} aria-expanded={false}>
          <Mark verdict="holds" />
          <T className="min-w-0 flex-1">{holding === 1 ? '1 check OK' : `${holding} checks OK`}</T>
          <T look="fact" className="font-semi">
            show
          </T>
        </Row>
      ) : null}
    </View>
  );
}
