import type { PartRow } from '@true-lantern/core';
import { useContext } from 'react';
import { View } from 'react-native';
import type { FieldSpec } from '../data/fields';
import { SiteContext } from '../data/open-site';
import { useMine } from '../data/outbox';
import { useMayWrite } from '../data/session';
import { useUnits } from '../data/units';
import { Row } from '../ui/controls';
import { T } from '../ui/text';
import { rangeText, shownValue } from './values';

/** A field in a line: what it is, its value, where that comes from. */
export function FieldRow({ row, spec, onOpen }: { row: PartRow; spec: FieldSpec; onOpen(): void }) {
  const mayWrite = useMayWrite();
  const units = useUnits();
  const value = shownValue(row, spec, units, useContext(SiteContext));
  const evidence = row.evidence[spec.path];
  const grade = evidence?.grade;
  const range = rangeText(evidence, spec, units);
  const own = useMine().filter(
    (entry) => 'change' in entry && entry.change.partId === row.id && spec.path in entry.change.set,
  );
  const unkept = own.some((entry) => entry.unkept);
  // Until the device's disk has answered it may still be lost with the page.
  const saving = !unkept && own.some((entry) => entry.n === undefined);
  const guess = grade === 'assumed' || range !== null;
  return (
    <Row
      testID={`field-${spec.path}`}
      aria-label={`${spec.label}: ${value ?? 'not known'}${grade ? `, ${grade}` : ''}`}
      onPress={onOpen}
      disabled={!mayWrite}
    >
      <T className="min-w-0 flex-1">{spec.label}</T>
      <View className="max-w-[62%] items-end">
        {value === null ? (
          <T look="head" className="text-lamp">
            not known
          </T>
        ) : (
          <T look="figure" className={`text-right ${guess ? 'border-b-2 border-dotted border-ink' : ''}`}>
            {value}
          </T>
        )}
        {unkept ? (
          <T look="small" role="alert" className="font-semi text-ink">
            not saved on this device
          </T>
        ) : null}
        {saving ? <T look="small">saving ...</T> : null}
        {grade || range ? <T look="small">{[grade, range].filter(Boolean).join(', ')}</T> : null}
      </View>
    </Row>
  );
}
