import {
  addendaOf,
  NUMBER_NOTE,
  numberText,
  readingText,
  RECORD_HEADS,
  recordedBand,
  recordToShow,
  type Addendum,
  type RecordedReading,
  type RecordState,
  type VisitRecord,
} from '@true-lantern/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useUnits } from '../data/units';
import { JUDGED } from '../entry/ReadingPad';
import { momentText } from '../ui/dates';
import { useGround } from '../ui/ground';
import { Mark, Marked } from '../ui/mark';
import { PaperPage, PaperPart, PaperSheet } from '../ui/paper';
import { Signature } from '../ui/signature';
import { T } from '../ui/text';
import { inUnits, withUnit } from '../ui/units';
import type { OpenSite } from '../data/site';

/** The commissioning record of a visit, from the record that was kept when it was signed. */
export const VisitPaper = ({ siteId, visitId }: { siteId: string; visitId: string }) => (
  <PaperPage
    siteId={siteId}
    find={({ file }) => file.visits?.find(({ id }) => id === visitId)}
    gone="This visit is not here."
    pdf="record"
    about={visitId}
    back={`/site/${siteId}/visits`}
  >
    {(site, visit) => <Sheet site={site} visitId={visit.id} addenda={addendaOf(visit)} />}
  </PaperPage>
);

/** How loud it is that a record is not the one that was signed. */
const MARKS: Record<RecordState, 'holds' | 'over' | 'unknown' | 'note'> = {
  kept: 'holds',
  changed: 'over',
  draft: 'unknown',
  'before-records': 'note',
};

function Sheet({ site, visitId, addenda }: { site: OpenSite; visitId: string; addenda: Addendum[] }) {
  const units = useUnits();
  const shown = useMemo(() => recordToShow(site.file, visitId), [site, visitId]);
  if (!shown) return null;
  const { record, hash, state } = shown;
  const { visit, conditions: at } = record;
  const head = RECORD_HEADS[state];
  const untested = Object.values(record.untested);
  return (
    <PaperSheet
      testID="visit-paper"
      title="Commissioning record"
      under={[record.site, visit.at ? momentText(visit.at) : null, visit.people].filter(Boolean).join(', ')}
    >
      {head ? <Marked verdict={MARKS[state]}>{head}</Marked> : null}
      {record.proposal ? <T>{`Fitted: ${record.proposal}`}</T> : null}
      {visit.why ? <T>{`Reason for the visit: ${visit.why}`}</T> : null}
      {visit.done ? <T>{`Done: ${visit.done}`}</T> : null}
      <T look="fact">{`Light ${withUnit(at.irradiance_W_m2, 'W/m\u00b2')}, air ${inUnits(at.ambient_C, 'degC', units)}, bank at ${Math.round(100 * at.soc)} %; instruments: ${record.instruments ?? 'not noted'}, to ${at.meter_pct} % of reading`}</T>
      <PaperPart title="Measured against expected">
        {Object.entries(record.read).map(([n, reading]) => (
          <Measured key={n} reading={reading} />
        ))}
      </PaperPart>
      <PaperPart title="Not tested" shown={untested.length > 0}>
        {untested.map(({ what, reason }, i) => (
          <T key={i} className="border-b border-rule py-1">{`${what}: ${reason}`}</T>
        ))}
      </PaperPart>
      <Signatures record={record} />
      <PaperPart title="Corrections" shown={addenda.length > 0}>
        {addenda.map(({ id, text, by, at: when }) => (
          <T key={id} className="border-b border-rule py-1">
            {`${text} (${[by, when ? momentText(when) : null].filter(Boolean).join(', ')})`}
          </T>
        ))}
      </PaperPart>
      {hash ? (
        <View className="pt-6" testID="record-number">
          <T look="fact">{numberText(hash)}</T>
          <T look="small">{NUMBER_NOTE}</T>
        </View>
      ) : null}
      <T look="fact" className="pt-6">
        Expected figures are planning values; local codes and the maker&apos;s manual come first.
      </T>
    </PaperSheet>
  );
}

/** A reading beside what was expected; nothing is worked out here. */
function Measured({ reading }: { reading: RecordedReading }) {
  const units = useUnits();
  const { what, judged, reason, value, unit } = reading;
  const band = recordedBand(reading, units);
  const under = [
    band ? `expected ${band}` : null,
    reason ? (judged === 'outside' ? `left as is: ${reason}` : reason) : null,
  ]
    .filter(Boolean)
    .join('; ');
  return (
    <View className="break-inside-avoid flex-row items-center gap-3 border-b border-rule py-1">
      {judged ? <Mark verdict={JUDGED[judged].verdict} size={18} /> : null}
      <View className="min-w-0 flex-1">
        <T>{what}</T>
        {under ? <T look="small">{under}</T> : null}
      </View>
      <T className="font-semi">{readingText(value, unit, units)}</T>
      <T look="small" className="w-24 text-right">
        {judged ? JUDGED[judged].word : ''}
      </T>
    </View>
  );
}

function Signatures({ record }: { record: VisitRecord }) {
  const { colours } = useGround();
  return (
    <View className="flex-row flex-wrap gap-8 pt-8">
      {Object.entries(record.signed).map(([who, { name, at, strokes }]) => (
        <View key={who} style={{ width: 220 }}>
          <View style={{ height: 88 }}>
            <Signature strokes={strokes} colour={colours.ink} />
          </View>
          <View className="border-t border-ink pt-1">
            <T look="fact">{`For the ${who}: ${name}${at ? `, ${momentText(at)}` : ''}`}</T>
          </View>
        </View>
      ))}
    </View>
  );
}
