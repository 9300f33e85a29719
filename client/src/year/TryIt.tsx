import { NO_TRIES, partTitle, type Model, type Tries } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Chip } from '../ui/controls';
import { MONTHS } from '../ui/months';
import { Stepper } from '../ui/stepper';
import { Heading, T } from '../ui/text';
import { WORDS } from '../ui/words';

/** Loads that are worth trying: the few that take most. */
const MOST_LOADS = 3;

interface Props {
  model: Model;
  tries: Tries;
  onTry(tries: Tries): void;
  /** What comes of it, in a sentence; null: nothing is tried. */
  said: string | null;
}

/** What if, by thumb: hours of loads, tilt, strings, bank, generator, months. The year beside follows each press. */
export function TryIt({ model, tries, onTry, said }: Props) {
  const [open, setOpen] = useState(false);
  if (!open) return <Button label="Try something" testID="try-it" onPress={() => setOpen(true)} />;
  return (
    <View className="gap-3 border-y-2 border-ink py-3" testID="tries">
      <View className="flex-row items-center gap-3">
        <Heading level={2} look="station" className="min-w-0 flex-1">
          Try something
        </Heading>
        <Button label="As it was" onPress={() => onTry(NO_TRIES)} />
        <Button label={WORDS.hide} kind="plain" onPress={() => setOpen(false)} />
      </View>
      <T className={said ? 'text-second' : ''} aria-live="polite" testID="tried">
        {said ?? 'Nothing changed yet.'}
      </T>
      <PartSteppers model={model} tries={tries} onTry={onTry} />
      <Occupied model={model} tries={tries} onTry={onTry} />
    </View>
  );
}

type TriesProps = Pick<Props, 'model' | 'tries' | 'onTry'>;

/** Hours of the loads that draw most, tilt and strings, the bank, who starts the generator. */
function PartSteppers({ model: { system }, tries, onTry }: TriesProps) {
  const { bank } = system;
  const loads = [...(system.loads ?? [])]
    .filter(({ hours_d }) => hours_d > 0)
    .sort((a, b) => b.power_W * b.hours_d - a.power_W * a.hours_d)
    .slice(0, MOST_LOADS);
  const arrays = (system.arrays ?? []).filter(({ controllerId }) => controllerId);
  const generator = system.sources?.find(({ kind }) => kind === 'generator');
  const name = (id: string, otherwise: string) => partTitle(system, id) ?? otherwise;
  return (
    <>
      {loads.map(({ id, label, hours_d }) => (
        <Stepper
          key={id}
          label={`${name(id, label)}, hours a day`}
          value={tries.hours[id] ?? hours_d}
          min={0}
          max={24}
          onChange={(hours) => onTry({ ...tries, hours: { ...tries.hours, [id]: hours } })}
        />
      ))}
      {arrays.map(({ id, tilt_deg, strings }) => (
        <View key={id} className="gap-3">
          <Stepper
            label={`${name(id, 'Array')}, strings`}
            value={strings.length + (tries.strings[id] ?? 0)}
            min={strings.length}
            max={64}
            onChange={(count) => onTry({ ...tries, strings: { ...tries.strings, [id]: count - strings.length } })}
          />
          {typeof tilt_deg === 'number' ? (
            <Stepper
              label={`${name(id, 'Array')}, tilt in degrees`}
              value={tries.tilt[id] ?? tilt_deg}
              min={0}
              max={90}
              step={5}
              onChange={(tilt) => onTry({ ...tries, tilt: { ...tries.tilt, [id]: tilt } })}
            />
          ) : null}
        </View>
      ))}
      {bank ? (
        <Stepper
          label={`${name(bank.id, 'Bank')}, strings`}
          value={tries.parallel ?? bank.parallel}
          min={1}
          max={64}
          onChange={(parallel) => onTry({ ...tries, parallel })}
        />
      ) : null}
      {generator ? (
        <View role="radiogroup" aria-label="The generator" className="flex-row flex-wrap gap-2">
          {[
            { on: true, words: 'Generator starts automatically' },
            { on: false, words: 'Started by hand' },
          ].map(({ on, words }) => (
            <Chip
              key={words}
              label={words}
              on={(tries.autoStart ?? Boolean(generator.autoStart)) === on}
              onPress={() => onTry({ ...tries, autoStart: on })}
            />
          ))}
        </View>
      ) : null}
    </>
  );
}

/** Who is there when. */
function Occupied({ model: { site }, tries, onTry }: TriesProps) {
  const months = tries.occupied ?? site.occupiedMonths ?? MONTHS.map((_, i) => i + 1);
  return (
    <>
      <T look="fact">Months in use</T>
      <View role="group" aria-label="Months in use" className="flex-row flex-wrap gap-2">
        {MONTHS.map((month, i) => {
          const there = months.includes(i + 1);
          const next = there ? months.filter((each) => each !== i + 1) : [...months, i + 1].sort((a, b) => a - b);
          return <Chip key={month} many label={month} on={there} onPress={() => onTry({ ...tries, occupied: next })} />;
        })}
      </View>
      {tries.occupied ? <T look="fact">Occupancy is saved with the site, not in a proposal.</T> : null}
    </>
  );
}
