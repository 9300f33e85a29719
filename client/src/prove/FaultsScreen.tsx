import {
  chosenReadings,
  COMPLAINTS,
  counted,
  CONDITIONS,
  conditionsOf,
  lowered,
  partById,
  positionWords,
  QUANTITIES,
  readingText,
  type Complaint,
  type Conditions,
  type Faults,
  type Quantity,
  type Ranked,
  type Reading,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { metersOf } from '../data/meters';
import { addEntry } from '../data/log';
import { addProposal } from '../data/proposals';
import { addReading, readingsOf } from '../data/readings';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { beginVisit, visitNow } from '../data/visits';
import { ReadingPad } from '../entry/ReadingPad';
import { Button, Chip, HeavyRule, Waiting } from '../kit/controls';
import { Heading, T } from '../kit/text';
import { Top } from '../kit/top';
import { offerUndo } from '../kit/undo';
import { useAnswer } from '../workers/engine';
import { HowTo, takenIn } from '../entry/HowTo';
import { nameOf } from './names';

/** So many causes are listed; the rest is folded into one line. */
const SHOWN = 6;

/** What does not work, the causes with their chances, and the next reading: one at a time, off line. */
export function FaultsScreen() {
  const site = useOpenSite();
  const [complaint, setComplaint] = useState<Complaint | null>(null);
  const person = usePerson();
  const visit = visitNow(site, null);
  const meter = metersOf(person.id)[0];
  const conditions = conditionsOf(visit, meter?.pct ?? CONDITIONS.meter_pct);
  // From a trend or a finding: every reading since then, of whatever visit.
  const { since } = useLocalSearchParams<{ since?: string }>();
  const readings = chosenReadings({ readings: readingsOf(site) }, since ? { since } : visit ? { visit: visit.id } : {});
  const { data, error } = useAnswer<'faults'>({
    ask: 'faults',
    model: site.judged,
    readings,
    asked: { complaint: complaint ?? undefined, visit, conditions },
  });
  return (
    <View className="flex-1">
      <Top title="Find the fault" onBack={() => router.navigate(`/site/${site.id}/prove`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <Heading level={2} look="station" className="px-[18px] pt-4">
            What does the customer say?
          </Heading>
          <View
            role="radiogroup"
            aria-label="What does the customer say?"
            className="flex-row flex-wrap gap-2 px-[18px] pt-2"
          >
            {(Object.keys(COMPLAINTS) as Complaint[]).map((one) => (
              <Chip
                key={one}
                label={COMPLAINTS[one]}
                on={complaint === one}
                onPress={() => setComplaint(complaint === one ? null : one)}
              />
            ))}
          </View>
          {error ? <T className="px-[18px] pt-4">{error.message}</T> : null}
          {data ? (
            <Answer site={site} faults={data} readings={readings} conditions={conditions} />
          ) : error ? null : (
            <Waiting what="Weighing the readings ..." />
          )}
        </View>
      </ScrollView>
    </View>
  );
}

interface AnswerProps {
  site: OpenSite;
  faults: Faults;
  readings: readonly Reading[];
  conditions: Conditions;
}

function Answer({ site, faults, readings, conditions }: AnswerProps) {
  const causes = grouped(faults.ranking);
  const [open, setOpen] = useState<string | null>(null);
  const urgent = faults.ruleOutFirst;
  const urgentCause = urgent && causes.find(({ key }) => key === keyOf(urgent));
  return (
    <View>
      <Heading look="lead" className="px-[18px] pt-5" testID="faults-lead">
        {leadOf(causes, readings.length)}
      </Heading>
      {urgentCause ? (
        <View className="mx-[18px] mt-3 border-l-[5px] border-ink pl-3" testID="rule-out-first">
          <T look="head">Rule this out first</T>
          <T>{`${urgentCause.best.title}. ${urgentCause.best.apart}`}</T>
        </View>
      ) : null}
      <NextReading site={site} faults={faults} conditions={conditions} />
      <HeavyRule />
      <Heading level={2} look="station" className="px-[18px] pt-4">
        Causes, the likeliest first
      </Heading>
      {causes.slice(0, SHOWN).map((cause) => (
        <CauseRow
          key={cause.key}
          cause={cause}
          open={open === cause.key}
          onOpen={() => setOpen(open === cause.key ? null : cause.key)}
          site={site}
          readings={readings}
        />
      ))}
      {causes.length > SHOWN ? (
        <T look="fact" className="px-[18px] py-3">
          {`${counted(causes.length - SHOWN, 'other cause')}, together ${percent(causes.slice(SHOWN).reduce((sum, { chance }) => sum + chance, 0))}`}
        </T>
      ) : null}
      {faults.unused.length > 0 ? (
        <T look="fact" className="px-[18px] py-2">
          {`${counted(faults.unused.length, 'reading')} not used: no cause changes ${faults.unused.length === 1 ? 'it' : 'them'}.`}
        </T>
      ) : null}
    </View>
  );
}

/** A cause at one part, over the places of it that nothing tells apart. */
interface Grouped {
  key: string;
  best: Ranked;
  places: number;
  chance: number;
}
const keyOf = ({ hypothesis, subject }: Pick<Ranked, 'hypothesis' | 'subject'>) => `${hypothesis} ${subject}`;

function grouped(ranking: readonly Ranked[]): Grouped[] {
  const groups = new Map<string, Grouped>();
  for (const one of ranking) {
    const key = one.and ? `${keyOf(one)} ${keyOf(one.and)}` : keyOf(one);
    const known = groups.get(key);
    if (known) {
      known.chance += one.probability;
      known.places += 1;
    } else groups.set(key, { key, best: one, places: 1, chance: one.probability });
  }
  return [...groups.values()].sort((a, b) => b.chance - a.chance);
}

const percent = (share: number) => (share < 0.01 ? 'under 1 %' : `${Math.round(100 * share)} %`);
/** From here on a cause is said, below it is one among several. */
const SURE = 0.7;

function leadOf([first, second]: readonly Grouped[], count: number): string {
  if (!first || count === 0) return 'No readings yet. Take the one below first: it tells most per minute.';
  const said = (cause: Grouped) => `${titleOf(cause)}: ${percent(cause.chance)}.`;
  if (first.chance >= SURE) return said(first);
  if (first.chance < LIKELY || !second) return 'Not clear yet. The reading below tells most per minute.';
  return `${said(first)} Or ${lowered(titleOf(second))}: ${percent(second.chance)}.`;
}
/** Below this nothing is named: it would be a guess. */
const LIKELY = 0.35;

/** With its place, where only one place of it is in question. */
const titleOf = ({ best, places }: Grouped) =>
  places === 1 && best.place ? `${best.title}, ${best.place}` : best.title;

interface CauseProps {
  cause: Grouped;
  open: boolean;
  onOpen(): void;
  site: OpenSite;
  readings: readonly Reading[];
}

function CauseRow({ cause, open, onOpen, site, readings }: CauseProps) {
  const { best, places, chance } = cause;
  return (
    <View className="border-b border-rule">
      <Pressable
        accessibilityRole="button"
        aria-expanded={open}
        onPress={onOpen}
        testID={`cause-${best.hypothesis}`}
        className="min-h-[56px] px-[18px] py-3"
      >
        <View className="flex-row items-baseline gap-3">
          <T look="head" className="min-w-0 flex-1">
            {titleOf(cause)}
          </T>
          <T look="figure">{percent(chance)}</T>
        </View>
        <View className="mt-2 h-[8px] bg-well">
          <View className="h-[8px] bg-ink" style={{ width: `${Math.max(1, 100 * chance)}%` }} />
        </View>
      </Pressable>
      {open ? <Opened best={best} places={places} site={site} readings={readings} /> : null}
    </View>
  );
}

function Opened({
  best,
  places,
  site,
  readings,
}: Pick<Grouped, 'best' | 'places'> & Pick<CauseProps, 'site' | 'readings'>) {
  const units = useUnits();
  const mayWrite = useMayWrite();
  const person = usePerson();
  const [fault, setFault] = useState<string | null>(null);
  const lines = best.predicted.flatMap((line) => {
    const reading = readings.find(({ id }) => id === line.reading);
    if (!reading) return [];
    const [unit, name] = QUANTITIES[reading.quantity as Quantity] ?? ['', reading.quantity];
    const off = Math.abs(line.measured - line.expected) / line.sigma;
    return [
      {
        ...line,
        off,
        text: `${name}, ${nameOf(site.model, reading.subject)}: read ${readingText(line.measured, unit, units)}, this cause gives ${readingText(line.expected, unit, units)}`,
      },
    ];
  });
  const against = lines.filter(({ off }) => off > 2).sort((a, b) => b.off - a.off);
  return (
    <View className="gap-2 px-[18px] pb-4">
      {places > 1 ? <T look="fact">{`${places} places look alike to these readings.`}</T> : null}
      <T>{best.apart}</T>
      <T look="head">{against.length > 0 ? 'What speaks against it' : 'Nothing that was read speaks against it.'}</T>
      {against.map(({ reading, text }) => (
        <T key={reading} look="fact">
          {text}
        </T>
      ))}
      <T look="head">What to do</T>
      <T>{best.cure.text}</T>
      {best.cure.changes.length > 0 && mayWrite ? (
        <Button
          label="Save as proposal"
          onPress={() => {
            const made = addProposal(site, best.title, best.cure.changes);
            if ('fault' in made) setFault(made.fault);
            else router.navigate(`/site/${site.id}/plan/${made.id}`);
          }}
        />
      ) : null}
      {fault ? <T look="fact">{fault}</T> : null}
      {mayWrite ? (
        <Button
          label="Log this cause"
          onPress={() =>
            offerUndo(
              'Fault logged',
              addEntry(site, person.name, {
                kind: 'fault',
                // A misread value has its reading for a subject, and no part.
                ...(partById(site.model.system, best.subject) ? { subject: best.subject } : {}),
                text: [best.title, ...lines.map(({ text }) => text)].join('; ').slice(0, MOST_LETTERS),
              }),
            )
          }
        />
      ) : null}
    </View>
  );
}

/** An entry is a note, not a book. */
const MOST_LETTERS = 2000;

/** The reading that tells most by the minute: where, with what, what each answer would mean, and its pad. */
function NextReading({ site, faults, conditions }: Omit<AnswerProps, 'readings'>) {
  const units = useUnits();
  const person = usePerson();
  const mayWrite = useMayWrite();
  const [at, setAt] = useState(0);
  const open = faults.next.filter(({ gain_bits }) => gain_bits > 0.005);
  const next = open[Math.min(at, open.length - 1)];
  if (!next) return <T className="px-[18px] pt-4">No other reading here would tell these causes apart.</T>;
  const [unit, name] = QUANTITIES[next.quantity];
  const where = positionWords(next.position);
  const meter = metersOf(person.id)[0];
  const keep = (value: number) => {
    const visit = visitNow(site, null)?.id ?? beginVisit(site, person.name, null);
    const back = addReading(site, {
      subject: next.subject,
      quantity: next.quantity,
      value,
      ...(next.position ? { position: next.position } : {}),
      visit,
      ...(meter?.name ? { meter: meter.name } : {}),
      meter_pct: conditions.meter_pct,
      conditions: takenIn(conditions),
    });
    offerUndo(`${name}: saved`, back);
    setAt(0);
  };
  return (
    <View className="mt-5 gap-2 border-l-[5px] border-l-lamp bg-well px-[18px] py-4" testID="next-reading">
      <T look="small">Read this next</T>
      <T look="head">{`${name}${where ? `, ${where}` : ''}: ${nameOf(site.model, next.subject)}`}</T>
      <HowTo test={next} />
      {next.means.slice(0, 3).map(({ title, expected }, i) => (
        <T key={i} look="fact">{`About ${readingText(Number(expected.toPrecision(3)), unit, units)}: ${title}`}</T>
      ))}
      {mayWrite ? (
        <ReadingPad
          key={`${next.subject} ${next.quantity} ${where}`}
          quantity={next.quantity}
          test={null}
          onSave={keep}
          label="Save reading"
        />
      ) : null}
      {open.length > 1 ? (
        <Button label="Show another reading" onPress={() => setAt((at + 1) % Math.min(open.length, MOST_OFFERED))} />
      ) : null}
    </View>
  );
}
/** Readings that tell far less are not offered. */
const MOST_OFFERED = 6;
