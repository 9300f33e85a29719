import { figure, type CapacityPlan, type Sample } from '@true-lantern/core';
import { useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { keepRunning, type Procedure, type Running } from '../data/clock';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { useAwake } from '../ui/awake';
import { allowSound, chime } from '../ui/chime';
import { Button } from '../ui/controls';
import { momentText } from '../ui/dates';
import { TextField } from '../ui/field';
import { useNow } from '../ui/now';
import { readEntry, readQuantity } from '../ui/number-entry';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { inUnits } from '../ui/units';
import { WORDS } from '../ui/words';

/** What to do before, ticked off one by one; then the clock starts. */
export function Prepare({
  site,
  procedure,
  plan,
}: {
  site: OpenSite;
  procedure: Procedure;
  plan: Pick<CapacityPlan, 'prepare' | 'stop'>;
}) {
  const units = useUnits();
  const mayWrite = useMayWrite();
  const [done, setDone] = useState<readonly string[]>([]);
  const [warm, setWarm] = useState('');
  const typed = readQuantity(warm, 'degC', units);
  const ambient = typeof typed === 'number' && typed > -60 && typed < 70 ? typed : null;
  return (
    <View className="gap-3 px-[18px] pt-4">
      <Heading level={2} look="station">
        Before you start
      </Heading>
      {plan.prepare.map((line) => {
        const on = done.includes(line);
        return (
          <Button
            key={line}
            label={on ? `\u2713 ${line}` : line}
            role="checkbox"
            aria-checked={on}
            className="justify-start px-3 py-2"
            onPress={() => setDone(on ? done.filter((one) => one !== line) : [...done, line])}
          />
        );
      })}
      <StopWhen lines={plan.stop} />
      <TextField label="Temperature of the bank" value={warm} onChangeText={setWarm} inputMode="decimal" />
      <Button
        kind="main"
        label="Start the test"
        disabled={!mayWrite || ambient === null || done.length < plan.prepare.length}
        onPress={() => {
          allowSound();
          keepRunning(site.id, procedure, { begun: Date.now(), ambient_C: ambient ?? 25, samples: [] });
        }}
      />
      {done.length < plan.prepare.length ? <T look="fact">Tick each line when it is done.</T> : null}
      {ambient === null ? (
        <T look="fact">{`Enter the temperature, for example ${inUnits(18, 'degC', units)}.`}</T>
      ) : null}
    </View>
  );
}

/** What ends a test at once. */
export const StopWhen = ({ lines }: { lines: readonly string[] }) => (
  <View className="gap-1 border-l-[5px] border-ink pl-3">
    <T look="head">Stop at once when</T>
    {lines.map((line) => (
      <T key={line}>{line}</T>
    ))}
  </View>
);

const SECOND_MS = 1000;

/** How long it runs, and when the next reading is due; at that moment a sound. */
export function Clock({
  running,
  next,
  ended,
  stopAt,
}: {
  running: Running;
  next: number | null;
  ended: boolean;
  stopAt: string;
}) {
  const now = useNow(SECOND_MS);
  const last = running.samples.at(-1);
  useAwake();
  const due = !ended && (next === null || now >= next);
  const rung = useRef<number | null>(null);
  useEffect(() => {
    if (!due || next === null || rung.current === next) return;
    rung.current = next;
    chime();
  }, [due, next]);
  return (
    <View className="gap-1 px-[18px]">
      <T look="lead" testID="clock-lead" aria-live="polite">
        {ended
          ? 'The test is complete.'
          : next === null
            ? 'Read voltage and current now.'
            : due
              ? now - next > 90 * SECOND_MS
                ? `The reading is ${Math.round((now - next) / 60_000)} min late. Read now.`
                : 'Read voltage and current now.'
              : `Next reading in ${clockText(next - now)}.`}
      </T>
      <T look="fact">{`Running for ${hoursText((now - running.begun) / 3_600_000)}. ${stopAt}`}</T>
      {last ? (
        <T look="fact">{`Last reading ${momentText(last.at).slice(-5)}: ${figure(last.volts)} V, ${figure(last.amps, 3)} A.`}</T>
      ) : null}
    </View>
  );
}

/** Volts and amperes of one moment, and the way out before the end. */
export function ReadNow({
  site,
  procedure,
  running,
  samples,
  stopped,
  onStopped,
}: {
  site: OpenSite;
  procedure: Procedure;
  running: Running;
  samples: readonly Sample[];
  stopped: string | null;
  onStopped(said: string): void;
}) {
  const last = samples.at(-1);
  const [volts, setVolts] = useState('');
  const [amps, setAmps] = useState<string | null>(null);
  const [leaving, setLeaving] = useState(false);
  const current = amps ?? (last ? String(last.amps) : '');
  const [v, a] = [readEntry(volts), readEntry(current)];
  const good = typeof v === 'number' && v > 0 && v < 2000 && typeof a === 'number' && a >= 0 && a < 5000;
  const keep = (next: Sample[]) => keepRunning(site.id, procedure, { ...running, samples: next });
  return (
    <View className="gap-3 px-[18px]">
      <View className="flex-row gap-3">
        <View className="min-w-0 flex-1">
          <TextField label="Bank voltage, V" inputMode="decimal" value={volts} onChangeText={setVolts} />
        </View>
        <View className="min-w-0 flex-1">
          <TextField label="Bank current, A" inputMode="decimal" value={current} onChangeText={setAmps} />
        </View>
      </View>
      <Button
        kind="main"
        label={WORDS.saveReading}
        disabled={!good}
        onPress={() => {
          if (!good) return;
          allowSound();
          keep([...running.samples, { at: new Date().toISOString(), volts: v, amps: a }]);
          setVolts('');
          setAmps(null);
          offerUndo('Reading saved', () => keep(running.samples));
        }}
      />
      {leaving ? (
        <View className="flex-row gap-3">
          <Button
            className="flex-1"
            label={stopped ? 'Stop and save to the log' : 'Stop the test'}
            onPress={() => (stopped ? onStopped(stopped) : keepRunning(site.id, procedure, null))}
          />
          <Button label="Go on" onPress={() => setLeaving(false)} />
        </View>
      ) : (
        <Button label="Stop the test early" onPress={() => setLeaving(true)} />
      )}
    </View>
  );
}

/** The test is complete: what to do now, and its saving. */
export function Finish({ label, hint, onSave }: { label: string; hint?: string; onSave(): void }) {
  return (
    <View className="gap-2 px-[18px]">
      {hint ? <T className="font-semi">{hint}</T> : null}
      <Button kind="main" label={label} onPress={onSave} />
    </View>
  );
}

/** "4 h 20 min". */
export function hoursText(hours: number): string {
  const minutes = Math.max(0, Math.round(hours * 60));
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** "7:05", minutes and seconds. */
function clockText(ms: number): string {
  const seconds = Math.max(0, Math.ceil(ms / 1000));
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
