import { counted, dueOf, SETTLED_BY, type Due } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { addEntry } from '../data/log';
import { meterUsed } from '../data/meters';
import { useOpenSite } from '../data/open-site';
import { addReading } from '../data/readings';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { ReadingPad } from '../entry/ReadingPad';
import { Button, Chip, Row } from '../ui/controls';
import { shortDay } from '../ui/dates';
import { whenDue } from '../ui/due-words';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { offerUndo } from '../ui/undo';
import { useToday } from '../data/today';
import { WORDS } from '../ui/words';

const WITHIN: readonly (readonly [days: number, label: string])[] = [
  [30, '30 days'],
  [90, '3 months'],
  [365, 'A year'],
];

/** What is overdue and what comes next, each done in a tap or with its reading. */
export function DueScreen() {
  const site = useOpenSite();
  const today = useToday();
  const [within, setWithin] = useState(30);
  const [open, setOpen] = useState<string | null>(null);
  const due = useMemo(() => dueOf(site.file, today, within), [site.file, today, within]);
  const overdue = due.filter(({ overdue_d }) => overdue_d > 0);
  const coming = due.filter(({ overdue_d }) => overdue_d === 0);
  const group = (title: string, list: readonly Due[]) =>
    list.length === 0 ? null : (
      <View>
        <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
          {title}
        </Heading>
        {list.map((one) => {
          const key = `${one.key} ${one.subject}`;
          return (
            <Task
              key={key}
              due={one}
              open={open === key}
              onOpen={() => setOpen(open === key ? null : key)}
              site={site}
            />
          );
        })}
      </View>
    );
  return (
    <View className="flex-1">
      <Top title="Due" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <Heading look="lead" className="px-[18px] pt-4" testID="due-lead">
            {overdue.length > 0
              ? `${counted(overdue.length, 'job')} overdue, ${coming.length} more to come.`
              : coming.length > 0
                ? `Nothing is overdue. ${counted(coming.length, 'job')} to come.`
                : 'Nothing is due.'}
          </Heading>
          <View role="radiogroup" aria-label="How far ahead" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
            {WITHIN.map(([days, label]) => (
              <Chip key={days} label={label} on={within === days} onPress={() => setWithin(days)} />
            ))}
          </View>
          {group('Overdue', overdue)}
          {group('To come', coming)}
          <T look="fact" className="px-[18px] pt-6">
            The intervals are planning values. The maker’s manual comes first.
          </T>
        </View>
      </ScrollView>
    </View>
  );
}

interface TaskProps {
  due: Due;
  open: boolean;
  onOpen(): void;
  site: OpenSite;
}

function Task({ due: one, open, onOpen, site }: TaskProps) {
  const { what, why, last, overdue_d, licensed, every_d } = one;
  return (
    <View>
      <Row
        onPress={onOpen}
        aria-expanded={open}
        testID={`due-${one.key}`}
        className={overdue_d > 0 ? 'border-l-[5px] border-l-ink pl-[13px]' : ''}
      >
        <View className="min-w-0 flex-1">
          <T look="head">{what}</T>
          <T look="fact">
            {[whenDue(one), last ? `last ${shortDay(last)}` : 'never logged', licensed ? 'licensed person' : '']
              .filter(Boolean)
              .join(' \u00b7 ')}
          </T>
        </View>
      </Row>
      {open ? (
        <View className="gap-3 border-b border-rule bg-well px-[18px] py-4">
          <T>{why}</T>
          <T look="fact">{`Every ${every_d} days.`}</T>
          <Settle due={one} site={site} onDone={onOpen} />
        </View>
      ) : null}
    </View>
  );
}

/** By an entry, by a reading, or where the measurements are. */
function Settle({ due: { key, subject, what }, site, onDone }: Pick<TaskProps, 'due' | 'site'> & { onDone(): void }) {
  const person = usePerson();
  const mayWrite = useMayWrite();
  const by = SETTLED_BY[key];
  if (!mayWrite) return null;
  if ('visit' in by)
    return <Button label="Open the measurements" onPress={() => router.navigate(`/site/${site.id}/service`)} />;
  if ('quantity' in by) {
    return (
      <>
        {by.quantity === 'capacity_Ah' ? (
          <Button
            label="Run a capacity test"
            onPress={() => router.navigate(`/site/${site.id}/guided?test=capacity`)}
          />
        ) : null}
        <ReadingPad
          quantity={by.quantity}
          test={null}
          label={WORDS.saveReading}
          onSave={(value, _, pair) => {
            const back = addReading(site, {
              subject,
              quantity: by.quantity,
              value,
              ...(pair ? { pair } : {}),
              ...meterUsed(person.id),
            });
            offerUndo('Reading saved', back);
            onDone();
          }}
        />
      </>
    );
  }
  return (
    <Button
      kind="main"
      label={WORDS.markAsDone}
      onPress={() => {
        const named =
          key === 'meter' ? { text: subject } : key === 'genset' ? { subject, text: 'Serviced' } : { subject };
        offerUndo(
          `Done: ${what}`,
          addEntry(site, person.name, { kind: by.kind, ...(by.what ? { what: by.what } : {}), ...named }),
        );
        onDone();
      }}
    />
  );
}
