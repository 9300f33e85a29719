import { isShelfKind, nameOfRow, type PartRow } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { copyLane, duplicatePart, mayDuplicate, mayRemove, neighbours, removePart } from '../data/parts';
import { useMayWrite } from '../data/session';
import { itemOfPart, putOnShelf } from '../data/shelf';
import { movePart } from '../data/site';
import { Button } from '../ui/controls';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { WORDS } from '../ui/words';

/** What can be done with a whole part: copy, move among its kind, take away. */
export function PartActions({ row }: { row: PartRow }) {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const [refused, setRefused] = useState<string | null>(null);
  const [kept, setKept] = useState(false);
  if (!mayWrite || !(mayDuplicate(row) || mayRemove(row))) return null;
  const { before, after } = neighbours(site, row);
  const called = String(row.body.label ?? KIND_WORDS[row.kind] ?? row.kind);
  const duplicate = () => router.navigate(`/site/${site.id}/part/${encodeURIComponent(duplicatePart(site, row))}`);
  const branch = () => {
    copyLane(site, nameOfRow(row));
    router.navigate(`/site/${site.id}`);
  };
  const remove = () => {
    const result = removePart(site, row);
    if ('refused' in result) return setRefused(result.refused);
    offerUndo(`${called} was removed.`, result.undo);
    router.navigate(`/site/${site.id}`);
  };
  return (
    <View className="gap-3 px-[18px] pt-6">
      {refused ? (
        <T role="alert" className="font-semi">
          {refused}
        </T>
      ) : null}
      <View className="flex-row flex-wrap gap-3">
        {mayDuplicate(row) ? <Button label="Duplicate" className="grow" onPress={duplicate} /> : null}
        {row.kind === 'controllers' ? <Button label="Copy the whole branch" className="grow" onPress={branch} /> : null}
        {before ? <Button label="Move up" className="grow" onPress={() => movePart(site, row, before)} /> : null}
        {after ? <Button label="Move down" className="grow" onPress={() => movePart(site, row, after)} /> : null}
        {isShelfKind(row.kind) ? (
          <Button
            label={kept ? 'Added to the shelf' : 'Add to shelf'}
            className="grow"
            disabled={kept}
            onPress={() => {
              putOnShelf(itemOfPart(row));
              setKept(true);
            }}
          />
        ) : null}
        {mayRemove(row) ? <Button label={WORDS.remove} className="grow" onPress={remove} /> : null}
      </View>
    </View>
  );
}
