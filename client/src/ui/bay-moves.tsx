import { movedTo, quarterTurned, standName, type Stood } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Chip } from './controls';

const STEP_MM = 10;

interface Props {
  items: readonly Stood[];
  nameOf(id: string): string;
  /** Somebody has moved something. */
  isArranged: boolean;
  /** Null: everything as it goes in. */
  onArrange(what: string, items: Stood[] | null): void;
}

/** What stands in a bay moved in steps: for keys, for gloves, for who does not see the drawing. */
export function BayMoves({ items, nameOf, isArranged, onArrange }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const one = chosen === null ? undefined : items[chosen];
  const step = (dx: number, dy: number) => {
    if (one && chosen !== null)
      onArrange('Moved in the bay', movedTo(items, chosen, one.x_mm + dx * STEP_MM, one.y_mm + dy * STEP_MM));
  };
  return (
    <View className="gap-2" testID="bay-moves">
      <View className="flex-row flex-wrap gap-2">
        {items.map((item, i) => (
          <Chip
            key={i}
            label={standName(item, nameOf)}
            on={chosen === i}
            onPress={() => setChosen(chosen === i ? null : i)}
          />
        ))}
      </View>
      {one && chosen !== null ? (
        <View className="flex-row flex-wrap gap-2">
          <Button label="Left" onPress={() => step(-1, 0)} />
          <Button label="Right" onPress={() => step(1, 0)} />
          <Button label="Inwards" onPress={() => step(0, -1)} />
          <Button label="Outwards" onPress={() => step(0, 1)} />
          <Button label="Turn" onPress={() => onArrange('Turned in the bay', quarterTurned(items, chosen))} />
        </View>
      ) : null}
      {isArranged ? <Button label="Arrange anew" onPress={() => onArrange('Arranged anew', null)} /> : null}
    </View>
  );
}
