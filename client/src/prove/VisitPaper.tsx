import {
  expectedTests,
  lowered,
  positionWords,
  QUANTITIES,
  type Reading,
  type Visit,
  bandText,
  conditionsOf,
  provedOf,
  readingText,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo } from 'react';
import { ScrollView, View } from 'react-native';
import { useFirm } from '../data/firm';
import { readingsOf } from '../data/readings';
import { useSite, type OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { JUDGED } from '../entry/ReadingPad';
import { Button, Plain, Waiting } from '../kit/controls';
import { momentText } from '../kit/dates';
import { PaperGround, useGround } from '../kit/ground';
import { Mark } from '../kit/mark';
import { PaperHead } from '../kit/paper-head';
import { PdfButton, PrintButton, usePaperSize } from '../kit/print';
import { Signature } from '../kit/signature';
import { Heading, T } from '../kit/text';
import { inUnits, withUnit } from '../kit/units';
import { nameOf } from './names';

/** The commissioning record of a visit: expected, measured, inside or outside and why, what was not tested, who signed. */
export function VisitPaper({ siteId, visitId }: { siteId: string; visitId: string }) {
  const { site, error } = useSite(siteId);
  if (error && !site) return <Plain title="This site cannot be opened." text={error.message} />;
  if (!site) return <Waiting what="Opening the site ..." />;
  const visit = site.file.visits?.find(({ id }) => id === visitId);
  if (!visit) return <Plain title="This visit is not here." />;
  return (
    <PaperGround>
      <ScrollView>
        <View role="main" className="mx-auto w-full max-w-[760px] px-[18px] pb-16 pt-6">
          <View className="flex-row gap-3 pb-6 print:hidden">
            <PrintButton />
            <PdfButton siteId={siteId} kind="record" about={visitId} />
            <Button label="Back" onPress={() => router.navigate(`/site/${siteId}/visits`)} />
          </View>
          <Sheet site={site} visit={visit} />
        </View>
      </ScrollView>
    </PaperGround>
  );
}

function Sheet({ site, visit }: { site: OpenSite; visit: Visit }) {
  const { firm } = useFirm();
  usePaperSize(firm?.sheet.paper);
  const { colours } = useGround();
  const units = useUnits();
  const mine = useMemo(() => readingsOf(site).filter(({ visit: of }) => of === visit.id), [site, visit]);
  const meter = mine.find(({ meter_pct }) => typeof meter_pct === 'number')?.meter_pct ?? 0.5;
  const proved = useMemo(
    () => provedOf(expectedTests(site.model, conditionsOf(visit, meter)).tests, mine, visit),
    [site, mine, visit, meter],
  );
  const read = proved.filter(({ reading }) => reading);
  const left = proved.filter(({ reading, untested }) => !reading && untested);
  const counted = new Set(read.map(({ reading }) => reading?.id));
  const others = mine.filter(({ id }) => !counted.has(id));
  const signed = Object.entries(
    (visit.signed ?? {}) as Record<string, { name?: string; at?: string; strokes?: string } | null>,
  );
  const { irradiance_W_m2, ambient_C, soc } = conditionsOf(visit, meter);
  return (
    <View nativeID="paper" testID="visit-paper">
      <PaperHead offer={false} />
      <Heading look="lead" className="pt-5">
        Commissioning record
      </Heading>
      <T look="fact" className="pb-2">
        {[site.file.site.name, visit.at ? momentText(visit.at) : null, visit.people].filter(Boolean).join(', ')}
      </T>
      {visit.why ? <T>{`Called for: ${visit.why}`}</T> : null}
      {visit.done ? <T>{`Done: ${visit.done}`}</T> : null}
      <T look="fact">{`Light ${withUnit(irradiance_W_m2, 'W/m\u00b2')}, air ${inUnits(ambient_C, 'degC', units)}, bank at ${Math.round(100 * soc)} %; instruments: ${visit.instruments ?? 'not noted'}, to ${meter} % of reading`}</T>
      <Heading level={2} look="station" className="pt-5">
        Measured against expected
      </Heading>
      {read.map(({ test, reading, judged, reason }) => (
        <View key={test.id} className="break-inside-avoid flex-row items-center gap-3 border-b border-rule py-1">
          {judged ? <Mark verdict={JUDGED[judged].verdict} size={18} /> : null}
          <View className="min-w-0 flex-1">
            <T>{`${nameOf(site.model, test.subject)}: ${lowered(QUANTITIES[test.quantity][1])}${test.position ? `, ${positionWords(test.position)}` : ''}`}</T>
            <T look="small">{`expected ${bandText(test, units)}${reason ? `; left so: ${reason}` : ''}`}</T>
          </View>
          <T className="font-semi">{reading ? readingText(reading.value, test.unit, units) : ''}</T>
          <T look="small" className="w-24 text-right">
            {judged ? JUDGED[judged].word : ''}
          </T>
        </View>
      ))}
      {others.map((reading: Reading) => {
        const [unit, name] = QUANTITIES[reading.quantity as keyof typeof QUANTITIES] ?? ['', 'Reading'];
        return (
          <View key={reading.id} className="flex-row gap-3 border-b border-rule py-1">
            <T className="min-w-0 flex-1">{`${nameOf(site.model, reading.subject)}: ${lowered(name)}${reading.note ? `; ${reading.note}` : ''}`}</T>
            <T className="font-semi">{readingText(reading.value, unit, units)}</T>
          </View>
        );
      })}
      {left.length > 0 ? (
        <>
          <Heading level={2} look="station" className="pt-5">
            Not tested
          </Heading>
          {left.map(({ test, untested }) => (
            <T key={test.id} className="border-b border-rule py-1">
              {`${nameOf(site.model, test.subject)}: ${lowered(QUANTITIES[test.quantity][1])}: ${untested ?? ''}`}
            </T>
          ))}
        </>
      ) : null}
      <View className="flex-row flex-wrap gap-8 pt-8">
        {signed.map(([who, entry]) =>
          entry ? (
            <View key={who} style={{ width: 220 }}>
              <View style={{ height: 88 }}>
                <Signature strokes={entry.strokes ?? ''} colour={colours.ink} />
              </View>
              <View className="border-t border-ink pt-1">
                <T look="fact">{`For the ${who}: ${entry.name ?? ''}${entry.at ? `, ${momentText(entry.at)}` : ''}`}</T>
              </View>
            </View>
          ) : null,
        )}
      </View>
      <T look="fact" className="pt-6">
        Expected figures are planning values; local codes and the maker&apos;s manual come first.
      </T>
    </View>
  );
}
