import { faultLine } from '@true-lantern/core';
import { View } from 'react-native';
import { dismiss, useOutbox } from '../data/outbox';
import { Button } from '../kit/controls';
import { T } from '../kit/text';

/** What has not reached the server yet, and what it would not take. Silent when all is well. */
export function OutboxNote({ siteId }: { siteId: string }) {
  const { entries, trouble } = useOutbox();
  const mine = entries.filter((entry) => entry.siteId === siteId);
  const waiting = mine.filter(({ state }) => state === 'waiting').length;
  const stuck = mine.filter(({ state }) => state !== 'waiting');
  if (mine.length === 0) return null;
  const why = trouble === 'no-signal' ? 'no signal' : trouble === 'signed-out' ? 'sign in again to send' : 'sending';
  return (
    <View className="gap-2 bg-well px-[18px] py-2" role="status">
      {waiting > 0 && trouble !== 'none' ? (
        <T look="fact" className="text-ink">
          {waiting === 1 ? '1 change is' : `${waiting} changes are`} kept on this device ({why}).
        </T>
      ) : null}
      {stuck.map(({ change, state, faults, conflicts }) => (
        <View key={change.changeId} className="gap-1">
          <T look="head">{state === 'refused' ? 'A change was refused' : 'Somebody else changed the same field'}</T>
          {faults?.map((fault) => (
            <T key={fault.path} look="mono">
              {faultLine(fault)}
            </T>
          ))}
          {conflicts?.map(({ field, current, wanted }) => (
            <T key={field} look="mono">
              {`${field}: stands at ${JSON.stringify(current)}, yours ${JSON.stringify(wanted)}`}
            </T>
          ))}
          <Button label="Understood" onPress={() => dismiss(change.changeId)} />
        </View>
      ))}
    </View>
  );
}
