import { recordOf, setOnRow } from '@true-lantern/core';
import { router } from 'expo-router';
import { View } from 'react-native';
import { setFirmSchools, useFirm } from '../data/firm';
import { useMine } from '../data/outbox';
import { usePerson } from '../data/session';
import { useStorage } from '../data/storage';
import { setUnits, useUnits, type Units } from '../data/units';
import { SchoolsEntry } from '../entry/SchoolsEntry';
import { Button, Chip } from '../ui/controls';
import { Page } from '../ui/page';
import { Heading, T } from '../ui/text';
import { unitText } from '../ui/units';
import { SheetEntry } from './SheetEntry';

const CHOICES: { name: keyof Units; label: string; values: Units[keyof Units][] }[] = [
  { name: 'length', label: 'Cable lengths', values: ['m', 'ft'] },
  { name: 'size', label: 'Conductors', values: ['mm2', 'AWG'] },
  { name: 'temperature', label: 'Temperatures', values: ['degC', 'degF'] },
  { name: 'small', label: 'Part sizes', values: ['mm', 'in'] },
  { name: 'mass', label: 'Mass', values: ['kg', 'lb'] },
];

/** Units of this person on this device; people and schools of the firm. */
export function FirmScreen() {
  const units = useUnits();
  const person = usePerson();
  const { firm } = useFirm();
  const put = (field: string, value: unknown) => {
    if (!firm) return;
    const row = {
      id: '',
      kind: 'schools' as const,
      body: recordOf(firm.schools),
      evidence: {},
      position: 0,
      revision: 0,
    };
    setFirmSchools(setOnRow(row, { [field]: value }).body);
  };
  return (
    <Page title="Firm" onBack={() => router.navigate('/')}>
      <Heading level={2} look="station" className="px-[18px] pt-5">
        Your units, on this device
      </Heading>
      {CHOICES.map(({ name, label, values }) => (
        <View key={name} className="gap-2 border-b border-rule px-[18px] py-3">
          <T>{label}</T>
          <View role="radiogroup" aria-label={label} className="flex-row gap-2">
            {values.map((value) => (
              <Chip
                key={value}
                label={unitText(value)}
                aria-label={`${label}: ${value}`}
                on={units[name] === value}
                onPress={() => setUnits({ [name]: value })}
              />
            ))}
          </View>
        </View>
      ))}
      <T look="fact" className="px-[18px] pt-3">
        Everything is stored in SI units. Findings use your units; their working shows both.
      </T>
      <Heading level={2} look="station" className="px-[18px] pt-7">
        On this device
      </Heading>
      <Kept />
      <Heading level={2} look="station" className="px-[18px] pt-7">
        Design standards for new sites
      </Heading>
      {firm ? (
        <SchoolsEntry schools={firm.schools} disabled={person.role !== 'owner'} onChange={put} />
      ) : (
        <T className="px-[18px] py-3 text-soft">They will load when you have a signal.</T>
      )}
      {firm && person.role === 'owner' ? (
        <>
          <Heading level={2} look="station" className="px-[18px] pt-7">
            On printed papers
          </Heading>
          <SheetEntry firm={firm} />
        </>
      ) : null}
      <Heading level={2} look="station" className="px-[18px] pb-2 pt-7">
        People of {person.firm.name}
      </Heading>
      {(firm?.people ?? []).map(({ id, name, role }) => (
        <View key={id} className="min-h-[48px] flex-row items-center justify-between border-b border-rule px-[18px]">
          <T>{name}</T>
          <T look="fact">{role}</T>
        </View>
      ))}
      <View className="gap-3 px-[18px] pt-5">
        {person.role === 'owner' ? <Button label="Manage people" onPress={() => router.navigate('/people')} /> : null}
        <Button label="Your password and sessions" onPress={() => router.navigate('/you')} />
      </View>
    </Page>
  );
}

/** What this app takes up on the device, and whether the browser may clear it. */
function Kept() {
  const storage = useStorage();
  const unsent = useMine().length;
  return (
    <View className="px-[18px] py-3" testID="storage">
      <T>{storage === null ? 'This browser does not say whether it keeps stored data.' : storage.room}</T>
      <T look="fact">
        {storage?.lasting
          ? 'The browser will not clear it on its own.'
          : 'The browser may clear it when storage runs low. Send your entries before a long break.'}
      </T>
      <T look="fact">
        {unsent === 0 ? 'All your entries are on the server.' : `${unsent} of your entries are not sent yet.`}
      </T>
    </View>
  );
}
