import { partById, QUANTITIES, readingText, type Quantity, type Reading } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { addEntry } from '../data/log';
import { addProposal } from '../data/proposals';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { Button } from '../ui/controls';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { CauseDrawing } from './CauseDrawing';
import { percent, titleOf, type Grouped } from './fault-words';
import { nameOf } from './names';
import { WORDS } from '../ui/words';

interface CauseProps {
  cause: Grouped;
  open: boolean;
  onOpen(): void;
  site: OpenSite;
  readings: readonly Reading[];
}

/** A cause with its chance; opened, what speaks against it and what to do. */
export function CauseRow({ cause, open, onOpen, site, readings }: CauseProps) {
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
      <View className="flex-row gap-4">
        <CauseDrawing code={best.hypothesis} />
        <T className="min-w-0 flex-1">{best.apart}</T>
      </View>
      <T look="head">{against.length > 0 ? 'Evidence against it' : 'No reading speaks against it.'}</T>
      {against.map(({ reading, text }) => (
        <T key={reading} look="fact">
          {text}
        </T>
      ))}
      <T look="head">What to do</T>
      <T>{best.cure.text}</T>
      {best.cure.changes.length > 0 && mayWrite ? (
        <Button
          label={WORDS.saveAsProposal}
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
