import { KIND_ORDER, KINDS, nameOfRow, partTitle } from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { Button, Row } from '../ui/controls';
import { Questions } from '../entry/Questions';
import { T } from '../ui/text';
import { Columns } from '../ui/columns';
import { useWide, useWidest } from '../ui/wide';
import { SinceLastVisit } from './SinceLastVisit';
import { StopCard } from './StopCard';
import { SiteLine } from '../line/SiteLine';

/**
 * On a phone the Line itself; on a wide screen, where the Line always stands beside it, what is still missing; on the
 * widest in two columns, but where it stands itself beside an opened part.
 */
export function SurveyScreen({ beside = false }: { beside?: boolean }) {
  const site = useOpenSite();
  const wide = useWide();
  const widest = useWidest();
  return (
    <ScrollView>
      <StopCard />
      <SinceLastVisit />
      {wide ? null : <SiteLine site={site} />}
      <Columns two={widest && !beside}>
        <>
          <AddButton stacked={beside} />
          <SiteConditions />
        </>
        <Questions site={site} title="Check first" />
      </Columns>
    </ScrollView>
  );
}

function AddButton({ stacked }: { stacked: boolean }) {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  if (!mayWrite) return null;
  return (
    <View className={`gap-3 px-[18px] py-4 ${stacked ? '' : 'flex-row'}`}>
      <Button
        label="Walk round"
        className={stacked ? '' : 'flex-1'}
        onPress={() => router.navigate(`/site/${site.id}/walk`)}
      />
      <Button
        label="Add a part"
        kind="main"
        className={stacked ? '' : 'flex-1'}
        onPress={() => router.navigate(`/site/${site.id}/add`)}
      />
    </View>
  );
}

/** Parts that the Line has no station for; nameplates of modules are listed before them. */
const OFF_THE_LINE = KIND_ORDER.filter((kind) => KINDS[kind].line.at === 'list' && kind !== 'moduleTypes');

function SiteConditions() {
  const site = useOpenSite();
  const rows = [
    { id: 'site', word: 'Site conditions', fact: 'record low and high, elevation, position' },
    {
      id: 'system',
      word: 'System voltage',
      fact: site.model.system.nominal_V ? `${site.model.system.nominal_V} V` : 'not known',
    },
    ...(site.model.system.moduleTypes ?? []).map(({ id, label }) => ({
      id,
      word: partTitle(site.model.system, id) ?? label ?? '',
      fact: 'module nameplate',
    })),
    ...OFF_THE_LINE.flatMap((kind) =>
      site.rows
        .filter((row) => row.kind === kind)
        .map((row) => ({
          id: nameOfRow(row),
          word: String(row.body.label ?? row.body.role ?? KIND_WORDS[kind]),
          fact: (KIND_WORDS[kind] ?? '').toLowerCase(),
        })),
    ),
  ];
  return (
    <View className="border-t border-rule">
      <Row testID="open-day" onPress={() => router.navigate(`/site/${site.id}/day`)}>
        <View className="min-w-0 flex-1">
          <T look="head">The day&apos;s loads</T>
          <T look="fact">24 hours at a glance: what runs when, and what runs together</T>
        </View>
      </Row>
      {rows.map(({ id, word, fact }) => (
        <Row
          key={id}
          testID={`open-${id}`}
          onPress={() => router.navigate(`/site/${site.id}/part/${encodeURIComponent(id)}`)}
        >
          <View className="min-w-0 flex-1">
            <T look="head">{word}</T>
            <T look="fact">{fact}</T>
          </View>
        </Row>
      ))}
    </View>
  );
}
