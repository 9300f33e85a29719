import { DELETED, type FieldConflict, type PartRow } from '@true-lantern/core';
import { View } from 'react-native';
import { enqueue, giveUp, type ChangeEntry } from '../data/outbox';
import { fieldSpec } from '../data/fields';
import { Button } from '../ui/controls';
import { T } from '../ui/text';

/** Later than any revision there will be; the largest whole number that the database holds. */
const LATEST = 2_147_483_647;

/** Two people set one field: both values side by side, and a person says which stands. */
export function Conflict({ entry, row }: { entry: ChangeEntry; row: PartRow | undefined }) {
  const { change, conflicts = [], siteId } = entry;
  const keepMine = () => {
    // Against "now": what stands was seen and is being overruled knowingly.
    enqueue(siteId, {
      partId: change.partId,
      baseRevision: LATEST,
      set: Object.fromEntries(conflicts.map(({ field, wanted }) => [field, wanted])),
    });
    void giveUp(entry);
  };
  const name = row?.body.label ?? row?.body.name;
  const fields = conflicts.filter(({ field }) => field !== DELETED);
  const removed = conflicts.some(({ field }) => field === DELETED);
  return (
    <View className="gap-2">
      <T look="head">
        {typeof name === 'string' ? `${name}: somebody` : 'Somebody'} else{' '}
        {removed
          ? 'removed this part while you were changing it.'
          : conflicts.length === 1
            ? 'changed the same field.'
            : 'entered the same thing.'}
      </T>
      {fields.map((conflict) => (
        <T key={conflict.field} look="mono">
          {conflictText(conflict, (row && fieldSpec(row.kind, conflict.field)?.label) ?? conflict.field)}
        </T>
      ))}
      <View className="flex-row gap-3">
        <Button
          label={removed ? 'Leave it removed' : 'Keep theirs'}
          className="flex-1"
          onPress={() => void giveUp(entry)}
        />
        <Button label={removed ? 'Restore it with mine' : 'Use mine'} className="flex-1" onPress={keepMine} />
      </View>
    </View>
  );
}

const conflictText = ({ current, wanted }: FieldConflict, field: string) =>
  `${field}: theirs ${text(current)}, mine ${text(wanted)}`;
const text = (value: unknown) =>
  value === null || value === undefined
    ? 'not known'
    : typeof value === 'object'
      ? JSON.stringify(value)
      : String(value);
