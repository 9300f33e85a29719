import { faultLine, type FieldConflict } from '@true-lantern/core';
import { View } from 'react-native';
import { dismiss, enqueue, isMine, keyOfEntry, useOutbox, type ChangeEntry, type Entry } from '../data/outbox';
import { useSession } from '../data/session';
import { clearTroubles, useTroubles } from '../data/trouble';
import { Button } from '../kit/controls';
import { T } from '../kit/text';

/** What has not reached the server yet, and what it would not take. Silent when all is well. */
export function OutboxNote({ siteId }: { siteId: string }) {
  const { entries, trouble } = useOutbox();
  const { askAgain } = useSession();
  const mine = entries.filter((entry) => entry.siteId === siteId && isMine(entry));
  const waiting = mine.filter(({ state }) => state === 'waiting').length;
  const stuck = mine.filter(({ state }) => state !== 'waiting');
  const troubles = useTroubles();
  if (stuck.length === 0 && troubles.length === 0 && (waiting === 0 || trouble === 'none')) return null;
  return (
    <View className="gap-2 bg-well px-[18px] py-2" role="status" testID="outbox">
      {troubles.map((sentence) => (
        <T key={sentence} look="fact" className="font-semi text-ink">
          {sentence}
        </T>
      ))}
      {troubles.length > 0 ? <Button label="Understood" onPress={clearTroubles} /> : null}
      {waiting > 0 && trouble !== 'none' ? (
        <T look="fact" className="text-ink">
          {waiting === 1 ? '1 change is' : `${waiting} changes are`} kept on this device
          {trouble === 'no-signal' ? ' until there is a signal.' : '; the session has ended.'}
        </T>
      ) : null}
      {waiting > 0 && trouble === 'signed-out' ? <Button label="Sign in to send" onPress={askAgain} /> : null}
      {stuck.map((entry) =>
        entry.state === 'conflict' && 'change' in entry ? (
          <Conflict key={keyOfEntry(entry)} entry={entry} />
        ) : (
          <Refused key={keyOfEntry(entry)} entry={entry} />
        ),
      )}
    </View>
  );
}

function Refused({ entry }: { entry: Entry }) {
  return (
    <View className="gap-1">
      <T look="head">{'change' in entry ? 'A change was refused.' : 'This site was refused.'}</T>
      {entry.faults?.map((fault) => (
        <T key={fault.path} look="mono">
          {faultLine(fault)}
        </T>
      ))}
      <Button label="Understood, drop it" onPress={() => dismiss(keyOfEntry(entry))} />
    </View>
  );
}

/** Later than any revision there will be; the largest whole number that the database holds. */
const LATEST = 2_147_483_647;

/** Two people set one field: both values side by side, and a person says which stands. */
function Conflict({ entry }: { entry: ChangeEntry }) {
  const { change, conflicts = [], siteId } = entry;
  const keepMine = () => {
    // Against "now": what stands was seen and is being overruled knowingly.
    enqueue(siteId, {
      partId: change.partId,
      baseRevision: LATEST,
      set: Object.fromEntries(conflicts.map(({ field, wanted }) => [field, wanted])),
    });
    dismiss(keyOfEntry(entry));
  };
  return (
    <View className="gap-2">
      <T look="head">Somebody else changed the same field.</T>
      {conflicts.map((conflict) => (
        <T key={conflict.field} look="mono">
          {conflictText(conflict)}
        </T>
      ))}
      <View className="flex-row gap-3">
        <Button label="Keep theirs" className="flex-1" onPress={() => dismiss(keyOfEntry(entry))} />
        <Button label="Use mine" className="flex-1" onPress={keepMine} />
      </View>
    </View>
  );
}

const conflictText = ({ field, current, wanted }: FieldConflict) =>
  `${field}: theirs ${text(current)}, mine ${text(wanted)}`;
const text = (value: unknown) =>
  value === null ? 'not known' : typeof value === 'object' ? JSON.stringify(value) : String(value);
