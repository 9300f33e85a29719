import { type Finding, type Said, type System, layoutLine } from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useUnits } from '../data/units';
import { Chip } from '../ui/controls';
import { Conductors } from './Conductors';
import { RowText } from './RowText';

interface LineProps {
  system: System;
  findings: readonly Finding[];
  siteFact: string;
  /** The system as found, when `system` is a proposal. */
  base?: System;
  selected?: string | null;
  guesses: ReadonlySet<string>;
  /** Parts that do not run in the state that is looked at. */
  off?: ReadonlySet<string>;
  /** Of the whole drawing, px. */
  width: number;
  /** Where the whole system is to be seen at once: the height there is, px. */
  fitHeight?: number;
  /** What was read last at each part, in place of the verdicts. */
  read?: ReadonlyMap<string, Said> | undefined;
  onOpen(id: string): void;
}

/** From this many branches on, one of them may be looked at alone. */
const MANY = 3;

/** The system drawn as one run of conductor, sun at the top, loads at the bottom. Everything on it can be opened. */
export function Line({
  system,
  findings,
  siteFact,
  base,
  selected,
  guesses,
  off,
  width,
  fitHeight,
  read,
  onOpen,
}: LineProps) {
  const units = useUnits();
  const [only, setOnly] = useState<string | null>(null);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const layout = useMemo(() => {
    const lay = (dense: boolean, foldLoads: boolean) =>
      layoutLine(system, findings, siteFact, { base, units, off, width, dense, foldLoads, unfolded, only, read });
    if (fitHeight === undefined) return lay(false, false);
    // The roomiest of these that is seen whole; else the lowest.
    const first = lay(false, false);
    if (first.height <= fitHeight) return first;
    const second = lay(true, false);
    return second.height <= fitHeight ? second : lay(true, true);
  }, [system, findings, siteFact, base, units, off, width, fitHeight, unfolded, only, read]);
  const known = layout.branches.some(({ id }) => id === only);
  return (
    <View>
      {layout.branches.length > MANY && !base && fitHeight === undefined ? (
        <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerClassName="gap-2 px-[14px] pt-3">
          <View role="radiogroup" aria-label="Branch" className="flex-row gap-2">
            <Chip label="Show the whole Line" on={!known} onPress={() => setOnly(null)} />
            {layout.branches.map(({ id, name }) => (
              <Chip key={id} label={name} on={only === id} onPress={() => setOnly(only === id ? null : id)} />
            ))}
          </View>
        </ScrollView>
      ) : null}
      <View style={{ height: layout.height }} className="my-2" testID="line">
        <View style={{ position: 'absolute', left: 0, top: 0, zIndex: 1, pointerEvents: 'none' }} aria-hidden>
          <Conductors layout={layout} />
        </View>
        {layout.rows.map((row, i) => (
          <View key={i} style={{ position: 'absolute', top: row.y, left: 0, right: 0, height: row.height }}>
            <RowText
              row={row}
              gutter={layout.gutter}
              selected={selected ?? null}
              guesses={guesses}
              onOpen={row.type === 'loads' ? () => setUnfolded((before) => new Set([...before, row.id])) : onOpen}
            />
          </View>
        ))}
      </View>
    </View>
  );
}
