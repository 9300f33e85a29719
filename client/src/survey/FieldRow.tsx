import type { PartRow } from '@true-lantern/core';
import { View } from 'react-native';
import type { FieldSpec } from '../data/fields';
import { useMayWrite } from '../data/session';
import { Row } from '../kit/controls';
import { T } from '../kit/text';
import { shownValue } from './values';

/** A field in a line: what it is, its value, where that comes from. */
export function FieldRow({ row, spec, onOpen }: { row: PartRow; spec: FieldSpec; onOpen(): void }) {
  const mayWrite = useMayWrite();
  const value = shownValue(row, spec);
  const grade = row.evidence[spec.path]?.grade;
  return (
    <Row
      testID={`field-${spec.path}`}
      aria-label={`${spec.label}: ${value ?? 'not known'}${grade ? `, ${grade}` : ''}`}
      onPress={onOpen}
      disabled={!mayWrite}
    >
      <T className="min-w-0 flex-1">{spec.label}</T>
      <View className="items-end">
        {value === null ? (
          <T look="head" className="text-lamp">
            not known
          </T>
        ) : (
          <T look="figure" className={grade === 'assumed' ? 'border-b-2 border-dotted border-ink' : ''}>
            {value}
          </T>
        )}
        {grade ? <T look="small">{grade}</T> : null}
      </View>
    </Row>
  );
}
