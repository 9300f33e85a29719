import type { Schools } from '@true-lantern/core';
import { View } from 'react-native';
import { Chip } from '../kit/controls';
import { T } from '../kit/text';

interface SchoolsEntryProps {
  schools: Schools;
  /** What stands where nothing is chosen: the firm's choice, or the book's. */
  fallback?: Schools;
  disabled?: boolean;
  onChange(field: string, value: unknown): void;
}

type Choice = [value: unknown, label: string];

/** The questions where practitioners disagree, and the answers that are held. */
const QUESTIONS: { path: string; label: string; choices: Choice[]; book: unknown }[] = [
  {
    path: 'controllerOutput',
    label: 'Controller output',
    book: 'plain',
    choices: [
      ['plain', 'watts / volts'],
      ['margin', 'the same x 1.25'],
      ['clip', 'clipping allowed'],
    ],
  },
  {
    path: 'coldVoltage',
    label: 'Cold voltage',
    book: 'coefficient',
    choices: [
      ['coefficient', 'coefficient'],
      ['bands', 'bands'],
    ],
  },
  {
    path: 'conductor',
    label: 'Conductor basis',
    book: 'building',
    choices: [
      ['building', 'building'],
      ['vehicle', 'vehicle'],
      ['metric', 'metric'],
    ],
  },
  {
    path: 'leadDepth',
    label: 'Usable depth, lead',
    book: 0.5,
    choices: [
      [0.3, '30 %'],
      [0.5, '50 %'],
      [0.8, '80 %'],
    ],
  },
  {
    path: 'lithiumDepth',
    label: 'Usable depth, lithium',
    book: 0.8,
    choices: [
      [0.8, '80 %'],
      [0.9, '90 %'],
      [1, '100 %'],
    ],
  },
  {
    path: 'chargeMin',
    label: 'Smallest charge',
    book: null,
    choices: [
      ['C10', 'C/10'],
      ['C20', 'C/20'],
    ],
  },
  {
    path: 'drop_pct.pv',
    label: 'Drop, PV',
    book: 3,
    choices: [
      [2, '2 %'],
      [3, '3 %'],
    ],
  },
  {
    path: 'drop_pct.battery',
    label: 'Drop, battery',
    book: 2,
    choices: [
      [1, '1 %'],
      [2, '2 %'],
      [3, '3 %'],
    ],
  },
  {
    path: 'drop_pct.dc',
    label: 'Drop, DC loads',
    book: 3,
    choices: [
      [3, '3 %'],
      [5, '5 %'],
    ],
  },
  {
    path: 'sourceEnd_m',
    label: 'Fuse from the source',
    book: 0.18,
    choices: [
      [0, 'at the post'],
      [0.18, '0.18 m'],
      [0.45, '0.45 m'],
    ],
  },
  {
    path: 'ageSpread_months',
    label: 'Ages within a bank',
    book: 6,
    choices: [
      [0, 'never apart'],
      [6, '6 months'],
      [12, '12 months'],
    ],
  },
];

export function SchoolsEntry({ schools, fallback = {}, disabled = false, onChange }: SchoolsEntryProps) {
  return (
    <View>
      {QUESTIONS.map(({ path, label, choices, book }) => {
        const chosen = at(schools, path);
        const now = chosen ?? at(fallback, path) ?? book;
        return (
          <View key={path} className="gap-2 border-b border-rule px-[18px] py-3">
            <View className="flex-row items-baseline justify-between">
              <T>{label}</T>
              {chosen === null ? <T look="small">{book === null ? 'the table' : 'as usual'}</T> : null}
            </View>
            <View role="radiogroup" aria-label={label} className="flex-row flex-wrap gap-2">
              {choices.map(([value, word]) => (
                <Chip
                  key={word}
                  label={word}
                  aria-label={`${label}: ${word}`}
                  on={now === value}
                  disabled={disabled}
                  // A second tap lets go again: what is usual stands then.
                  onPress={() => onChange(path, chosen === value ? null : value)}
                />
              ))}
            </View>
          </View>
        );
      })}
    </View>
  );
}

const at = (schools: Schools, path: string): unknown =>
  path
    .split('.')
    .reduce<unknown>((value, step) => (value as Record<string, unknown> | null | undefined)?.[step], schools) ?? null;
