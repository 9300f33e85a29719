import {
  addendaOf,
  counted,
  lowered,
  positionWords,
  QUANTITIES,
  type Quantity,
  type Reading,
  type Visit,
  readingText,
  recordToShow,
  type VisitRecord,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { momentText } from '../ui/dates';
import { useOpenSite } from '../data/open-site';
import { readingsOf } from '../data/readings';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { addAddendum, isSigned, visitsOf } from '../data/visits';
import { useUnits } from '../data/units';
import { JUDGED } from '../entry/ReadingPad';
import { Button } from '../ui/controls';
import { Mark } from '../ui/mark';
import { TextField } from '../ui/field';
import { useGround } from '../ui/ground';
import { Signature } from '../ui/signature';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { LogImport } from './LogImport';
import { nameOf } from './names';
import { WORDS } from '../ui/words';

/** Every visit, the latest first: who, why, what was done, read, left, and signed. */
export function VisitsScreen() {
  const site = useOpenSite();
  const visits = visitsOf(site);
  const readings = readingsOf(site);
  const loose = readings.filter(({ visit }) => !visits.some(({ id }) => id === visit));
  return (
    <View className="flex-1">
      <Top title="Visits" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <LogImport />
          {visits.length === 0 ? (
            <T className="px-[18px] py-6 text-soft">No visit is recorded yet: the first reading begins one.</T>
          ) : null}
          {visits.map((visit) => (
            <One key={visit.id} visit={visit} readings={readings.filter((reading) => reading.visit === visit.id)} />
          ))}
          {loose.length > 0 ? (
            <View className="pt-6">
              <Heading level={2} look="station" className="px-[18px]">
                Read without a visit
              </Heading>
              <Readings readings={[...loose].reverse()} />
            </View>
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}

function One({ visit, readings }: { visit: Visit; readings: Reading[] }) {
  const site = useOpenSite();
  const { colours } = useGround();
  const { at, people, why, done, proposalId, instruments } = visit;
  const proposal = site.file.proposals?.find(({ id }) => id === proposalId);
  const reasons = Object.entries((visit.reasons ?? {}) as Record<string, string | null>);
  const untested = Object.values((visit.untested ?? {}) as Record<string, string | null>).filter(Boolean);
  const signed = Object.entries((visit.signed ?? {}) as Record<string, { name?: string; strokes?: string } | null>);
  const changed = [...new Set(untested)];
  // What was signed is shown as it was signed, by the names that its parts had then.
  const kept = useMemo(() => (visit.record ? recordToShow(site.file, visit.id) : null), [site, visit]);
  return (
    <View className="gap-1 border-b-2 border-ink px-[18px] py-4" testID="visit">
      <Heading level={2} look="station">
        {at ? momentText(at) : 'A visit'}
      </Heading>
      <T look="fact">
        {[
          people,
          proposal ? `${proposal.title}, ${proposal.closed ? 'installed' : 'being installed'}` : null,
          isSigned(visit) ? 'signed' : 'not signed yet',
        ]
          .filter(Boolean)
          .join(' \u00b7 ')}
      </T>
      {why ? <T>{`Reason for the visit: ${why}`}</T> : null}
      {done ? <T>{`Done: ${done}`}</T> : null}
      {instruments ? <T look="fact">{`Instruments: ${instruments}`}</T> : null}
      <T look="fact">{counted(readings.length, 'reading')}</T>
      <View className="-mx-[18px]">
        {kept ? (
          <Recorded record={kept.record} />
        ) : (
          <Readings readings={readings} reasons={Object.fromEntries(reasons)} />
        )}
      </View>
      {untested.length > 0 ? (
        <T look="fact">{`${counted(untested.length, 'test')} not done: ${changed.join('; ')}`}</T>
      ) : null}
      <View className="flex-row flex-wrap gap-4">
        {signed.map(([who, entry]) =>
          entry ? (
            <View key={who} style={{ width: 160 }}>
              <View style={{ height: 65 }}>
                <Signature strokes={entry.strokes ?? ''} colour={colours.ink} />
              </View>
              <T look="small">{`${entry.name ?? ''}, for the ${who}`}</T>
            </View>
          ) : null,
        )}
      </View>
      {isSigned(visit) ? <Corrections site={site} visit={visit} /> : null}
      <Button
        label="Commissioning record"
        className="mt-2"
        onPress={() => router.navigate(`/paper/${site.id}/visit/${encodeURIComponent(visit.id)}`)}
      />
    </View>
  );
}

/** The readings of a record, as they were signed. */
function Recorded({ record }: { record: VisitRecord }) {
  const units = useUnits();
  return (
    <>
      {Object.entries(record.read).map(([n, { what, value, unit, reason, judged, at }]) => (
        <View key={n} className="min-h-[44px] flex-row items-center gap-3 border-b border-rule px-[18px] py-1">
          {judged ? <Mark verdict={JUDGED[judged].verdict} size={18} /> : null}
          <View className="min-w-0 flex-1">
            <T>{what}</T>
            {reason ? <T look="fact">{reason}</T> : null}
            {at ? <T look="small">{momentText(at)}</T> : null}
          </View>
          <T look="figure">{readingText(value, unit, units)}</T>
        </View>
      ))}
    </>
  );
}

/** What was written beside a signed record, and a place for one more: the first text stays. */
function Corrections({ site, visit }: { site: OpenSite; visit: Visit }) {
  const person = usePerson();
  const mayWrite = useMayWrite();
  const [text, setText] = useState<string | null>(null);
  const save = () => {
    addAddendum(site, visit.id, (text ?? '').trim(), person);
    setText(null);
  };
  return (
    <View className="gap-2" testID="corrections">
      {addendaOf(visit).map(({ id, text: written, by, at }) => (
        <T key={id}>{`Correction: ${written} (${[by, at ? momentText(at) : null].filter(Boolean).join(', ')})`}</T>
      ))}
      {!mayWrite ? null : text === null ? (
        <Button label="Add a correction" onPress={() => setText('')} />
      ) : (
        <>
          <T look="fact">The record stays as it was signed. A correction is printed beside it and cannot be removed.</T>
          <TextField label="Correction" value={text} onChangeText={setText} multiline autoFocus />
          <Button label={WORDS.saveCorrection} kind="main" disabled={text.trim().length < 3} onPress={save} />
          <Button label={WORDS.cancel} kind="plain" className="self-start px-0" onPress={() => setText(null)} />
        </>
      )}
    </View>
  );
}

/** Readings of a visit, or those of none. */
export function Readings({
  readings,
  reasons = {},
}: {
  readings: readonly Reading[];
  reasons?: Record<string, string | null>;
}) {
  const site = useOpenSite();
  const units = useUnits();
  return (
    <>
      {readings.map(({ id, subject, quantity, value, position, note, at }) => {
        const [unit, name] = QUANTITIES[quantity as Quantity] ?? ['', 'Reading'];
        const where = positionWords(position);
        const key = [subject, quantity].join('~');
        const reason = Object.entries(reasons).find(([test]) => test.startsWith(key))?.[1];
        return (
          <View key={id} className="min-h-[44px] flex-row items-center gap-3 border-b border-rule px-[18px] py-1">
            <View className="min-w-0 flex-1">
              <T>{`${nameOf(site.model, subject)}: ${lowered(name)}${where ? `, ${where}` : ''}`}</T>
              {(reason ?? note) ? <T look="fact">{reason ?? note}</T> : null}
              {at ? <T look="small">{momentText(at)}</T> : null}
            </View>
            <T look="figure">{readingText(value, unit, units)}</T>
          </View>
        );
      })}
    </>
  );
}
