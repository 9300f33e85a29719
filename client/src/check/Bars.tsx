import { CONSEQUENCE_ORDER, type Consequence, type Finding } from '@true-lantern/core';
import { Pressable, ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { partName } from '../data/reading';
import { Chip } from '../ui/controls';
import { T } from '../ui/text';

/** The heading over what follows alike. */
export const CONSEQUENCE_HEADS: Record<Consequence, string> = {
  danger: 'Danger: fire, shock or gas',
  damage: 'Damage: kills a device',
  life: 'Shortens service life',
  outage: 'Outage: the power fails',
  loss: 'Loses energy',
};

const CONSEQUENCE_SHORT: Record<Consequence, string> = {
  danger: 'Danger',
  damage: 'Damage',
  life: 'Life',
  outage: 'Outage',
  loss: 'Loss',
};

/** How many are over, by what they lead to; a tap shows these alone. */
export function ConsequenceBar({
  findings,
  chosen,
  onChoose,
}: {
  findings: readonly Finding[];
  chosen: Consequence | null;
  onChoose(consequence: Consequence | null): void;
}) {
  if (findings.length < 2) return null;
  const counts = CONSEQUENCE_ORDER.map((one) => ({
    one,
    count: findings.filter(({ consequence }) => consequence === one).length,
  })).filter(({ count }) => count > 0);
  return (
    <View role="radiogroup" aria-label="Consequence" className="flex-row gap-[3px] px-[18px] py-3">
      {counts.map(({ one, count }) => {
        const on = chosen === one;
        const grave = one === 'danger';
        const ink = grave || on ? 'text-paper' : 'text-ink';
        return (
          <Pressable
            key={one}
            role="radio"
            aria-checked={on}
            aria-label={`${CONSEQUENCE_SHORT[one]}: ${count} over`}
            testID={`consequence-${one}`}
            onPress={() => onChoose(on ? null : one)}
            style={{ flexGrow: count, flexBasis: 66 }}
            className={`min-h-[64px] justify-center border-2 px-[5px] active:opacity-70 ${grave || on ? 'bg-ink' : 'bg-well'} ${on ? 'border-lamp' : grave ? 'border-ink' : 'border-rule'}`}
          >
            <T look="figure" className={ink}>
              {count}
            </T>
            <T look="small" numberOfLines={1} className={ink}>
              {CONSEQUENCE_SHORT[one]}
            </T>
          </Pressable>
        );
      })}
    </View>
  );
}

/** The parts that something is the matter with, worst first; a tap shows that part alone. */
export function PartFilter({
  findings,
  part,
  onPart,
}: {
  findings: readonly Finding[];
  part: string | null;
  onPart(part: string | null): void;
}) {
  const site = useOpenSite();
  const loud = findings.filter(({ verdict }) => verdict === 'over' || verdict === 'tight');
  const parts = [...new Set(loud.map(({ subject }) => subject))];
  if (parts.length < 3) return null;
  return (
    <ScrollView horizontal className="border-b border-rule" contentContainerClassName="gap-2 px-[18px] py-2">
      <View role="radiogroup" aria-label="Part" className="flex-row gap-2">
        <Chip label="All parts" on={part === null} onPress={() => onPart(null)} />
        {parts.map((id) => (
          <Chip
            key={id}
            label={`${partName(site, id)} ${loud.filter(({ subject }) => subject === id).length}`}
            on={part === id}
            onPress={() => onPart(part === id ? null : id)}
          />
        ))}
      </View>
    </ScrollView>
  );
}
