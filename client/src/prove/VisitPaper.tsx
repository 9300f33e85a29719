import {
  expectedTests,
  lowered,
  positionWords,
  QUANTITIES,
  type Proved,
  type Reading,
  type Visit,
  bandText,
  conditionsOf,
  provedOf,
  readingText,
} from '@true-lantern/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { readingsOf } from '../data/readings';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { JUDGED } from '../entry/ReadingPad';
import { momentText } from '../kit/dates';
import { useGround } from '../kit/ground';
import { Mark } from '../kit/mark';
import { PaperPage, PaperPart, PaperSheet } from '../kit/paper';
import { Signature } from '../kit/signature';
import { T } from '../kit/text';
import { inUnits, withUnit } from '../kit/units';
import { nameOf } from './names';

/** The commissioning record of a visit: expected, measured, inside or outside and why, what was not tested, who signed. */
export const VisitPaper = ({ siteId, visitId }: { siteId: string; visitId: string }) => (
  <PaperPage
    siteId={siteId}
    find={({ file }) => file.visits?.find(({ id }) => id === visitId)}
    gone="This visit is not here."
    pdf="record"
    about={visitId}
    back={`/site/${siteId}/visits`}
  >
    {(site, visit) => <Sheet site={site} visit={visit} />}
  </PaperPage>
);

function Sheet({ site, visit }: { site: OpenSite; visit: Visit }) {
  const units = useUnits();
  const mine = useMemo(() => readingsOf(site).filter(({ visit: of }) => of === visit.id), [site, visit]);
  const meter = mine.find(({ meter_pct }) => typeof meter_pct === 'number')?.meter_pct ?? 0.5;
  const at = useMemo(() => conditionsOf(visit, meter), [visit, meter]);
  const proved = useMemo(() => provedOf(expectedTests(site.model, at).tests, mine, visit), [site, mine, visit, at]);
  const left = proved.filter(({ reading, untested }) => !reading && untested);
  return (
    <PaperSheet
      testID="visit-paper"
      title="Commissioning record"
      under={[site.file.site.name, visit.at ? momentText(visit.at) : null, visit.people].filter(Boolean).join(', ')}
    >
      {visit.why ? <T>{`Called for: ${visit.why}`}</T> : null}
      {visit.done ? <T>{`Done: ${visit.done}`}</T> : null}
      <T look="fact">{`Light ${withUnit(at.irradiance_W_m2, 'W/m\u00b2')}, air ${inUnits(at.ambient_C, 'degC', units)}, bank at ${Math.round(100 * at.soc)} %; instruments: ${visit.instruments ?? 'not noted'}, to ${meter} % of reading`}</T>
      <PaperPart title="Measured against expected">
        <Measured site={site} proved={proved} mine={mine} />
      </PaperPart>
      <PaperPart title="Not tested" shown={left.length > 0}>
        {left.map(({ test, untested }) => (
          <T key={test.id} className="border-b border-rule py-1">
            {`${nameOf(site.model, test.subject)}: ${lowered(QUANTITIES[test.quantity][1])}: ${untested ?? ''}`}
          </T>
        ))}
      </PaperPart>
      <Signatures visit={visit} />
      <T look="fact" className="pt-6">
        Expected figures are planning values; local codes and the maker&apos;s manual come first.
      </T>
    </PaperSheet>
  );
}

interface MeasuredProps {
  site: OpenSite;
  proved: readonly Proved[];
  mine: readonly Reading[];
}

/** Readings beside what was expected, and under them those of which nothing was. */
function Measured({ site, proved, mine }: MeasuredProps) {
  const units = useUnits();
  const read = proved.filter(({ reading }) => reading);
  const counted = new Set(read.map(({ reading }) => reading?.id));
  const others = mine.filter(({ id }) => !counted.has(id));
  return (
    <>
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
      {others.map((reading) => {
        const [unit, name] = QUANTITIES[reading.quantity as keyof typeof QUANTITIES] ?? ['', 'Reading'];
        return (
          <View key={reading.id} className="flex-row gap-3 border-b border-rule py-1">
            <T className="min-w-0 flex-1">{`${nameOf(site.model, reading.subject)}: ${lowered(name)}${reading.note ? `; ${reading.note}` : ''}`}</T>
            <T className="font-semi">{readingText(reading.value, unit, units)}</T>
          </View>
        );
      })}
    </>
  );
}

function Signatures({ visit }: { visit: Visit }) {
  const { colours } = useGround();
  const signed = Object.entries(
    (visit.signed ?? {}) as Record<string, { name?: string; at?: string; strokes?: string } | null>,
  );
  return (
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
  );
}
