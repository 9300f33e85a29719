import {
  acceptancePlan,
  acceptanceResult,
  capacityPlan,
  capacityResult,
  figure,
  nextReadingAt,
  samplesInOrder,
  type AcceptancePlan,
  type CapacityPlan,
  type Sample,
} from '@true-lantern/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { keepRunning, useRunning, type Procedure, type Running } from '../data/clock';
import { addEntry } from '../data/log';
import { meterUsed } from '../data/meters';
import { addReading } from '../data/readings';
import { usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { momentText } from '../ui/dates';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { ClockChart } from './ClockChart';
import { Clock, Finish, hoursText, Prepare, ReadNow, StopWhen } from './clock-parts';

interface Props {
  site: OpenSite;
  onDone(): void;
}

/** Discharges the bank from full to its end voltage, and records what it gave. */
export function CapacityTest({ site, onDone }: Props) {
  const plan = useMemo(() => capacityPlan(site.model), [site.model]);
  const running = useRunning(site.id, 'capacity');
  if ('missing' in plan) return null;
  if (!running) return <Prepare site={site} procedure="capacity" plan={plan} />;
  return <Capacity site={site} plan={plan} running={running} onDone={onDone} />;
}

/** Holds the bank at its absorption voltage, and records how soon its current falls. */
export function AcceptanceTest({ site, onDone }: Props) {
  const plan = useMemo(() => acceptancePlan(site.model), [site.model]);
  const running = useRunning(site.id, 'acceptance');
  if ('missing' in plan) return null;
  if (!running) return <Prepare site={site} procedure="acceptance" plan={plan} />;
  return <Acceptance site={site} plan={plan} running={running} onDone={onDone} />;
}

function Capacity({ site, plan, running, onDone }: Props & { plan: CapacityPlan; running: Running }) {
  const { ambient_C } = running;
  const samples = samplesInOrder(running.samples);
  const next = nextReadingAt(plan, samples);
  const result = useMemo(
    () => capacityResult(site.model, plan, running.samples, ambient_C),
    [site.model, plan, running, ambient_C],
  );
  const finish = useFinish(site, 'capacity', onDone);
  const ended = result?.ended ?? false;
  const whole = (value: number) => figure(value, 3);
  return (
    <View className="gap-4 pt-4">
      <Clock running={running} next={next} ended={ended} stopAt={`Ends at ${figure(plan.end_V)} V.`} />
      {result ? (
        <View className="gap-1 px-[18px]" testID="clock-result">
          <T look="head">
            {ended
              ? `${whole(result.capacity_Ah)} Ah: ${whole(result.ofLabel_pct)} % of the label.`
              : `${whole(result.drawn_Ah)} Ah drawn in ${hoursText(result.hours)}.`}
          </T>
          {ended ? (
            <T>
              {`${whole(result.drawn_Ah)} Ah drawn in ${hoursText(result.hours)} at ${whole(result.mean_A)} A. At the 20 h rate ${whole(result.capacity_Ah)} Ah, at 25 degC ${whole(result.at25_Ah)} Ah. The label says ${whole(plan.labelled_Ah)} Ah.`}
            </T>
          ) : null}
          {result.doubts.map((doubt) => (
            <T key={doubt} className="font-semi">
              {doubt}
            </T>
          ))}
        </View>
      ) : null}
      <ClockChart samples={samples} line={plan.end_V} word="End voltage" of="volts" />
      {ended && result ? (
        <Finish
          label={`Save ${whole(result.capacity_Ah)} Ah as the measured capacity`}
          hint="Switch the load off and charge the bank now."
          onSave={() => {
            const said = `Capacity test: ${whole(result.drawn_Ah)} Ah in ${hoursText(result.hours)} at ${whole(result.mean_A)} A, ${whole(result.ofLabel_pct)} % of the label at 25 degC.`;
            finish(plan.bank, said, samples, { value: Number(result.capacity_Ah.toPrecision(4)), ambient_C });
          }}
        />
      ) : (
        <ReadNow
          site={site}
          procedure="capacity"
          running={running}
          samples={samples}
          stopped={
            result ? `Capacity test stopped early: ${whole(result.drawn_Ah)} Ah in ${hoursText(result.hours)}.` : null
          }
          onStopped={(said) => finish(plan.bank, said, samples, null)}
        />
      )}
      <View className="px-[18px]">
        <StopWhen lines={plan.stop} />
      </View>
    </View>
  );
}

function Acceptance({ site, plan, running, onDone }: Props & { plan: AcceptancePlan; running: Running }) {
  const samples = samplesInOrder(running.samples);
  const result = acceptanceResult(plan, samples);
  const finish = useFinish(site, 'acceptance', onDone);
  const last = samples.at(-1);
  const ended = result !== null && result.toTail_h !== null;
  const next = last && !ended ? Date.parse(last.at) + ACCEPTANCE_EVERY_MS : null;
  const said = !result
    ? `Not at ${figure(plan.absorb_V)} V yet.`
    : result.rising
      ? `The current rises from its lowest to ${figure(result.last_A, 3)} A. Stop the charge.`
      : ended
        ? `Full after ${hoursText(result.toTail_h ?? 0)} at ${figure(plan.absorb_V)} V: from ${figure(result.first_A, 3)} A to ${figure(result.last_A, 3)} A.`
        : `${figure(result.last_A, 3)} A after ${hoursText(result.hours)} at ${figure(plan.absorb_V)} V. Full below ${figure(plan.tail_A, 3)} A.`;
  return (
    <View className="gap-4 pt-4">
      <Clock running={running} next={next} ended={ended} stopAt={`Full below ${figure(plan.tail_A, 3)} A.`} />
      <T
        look="head"
        className="px-[18px]"
        testID="clock-result"
        {...(result?.rising ? { role: 'alert' as const } : {})}
      >
        {said}
      </T>
      <ClockChart samples={samples} line={plan.tail_A} word="Tail current" of="amps" />
      {ended ? (
        <Finish label="Save to the log" onSave={() => finish(plan.bank, `Charge acceptance: ${said}`, samples, null)} />
      ) : (
        <ReadNow
          site={site}
          procedure="acceptance"
          running={running}
          samples={samples}
          stopped={`Charge acceptance, stopped early: ${said}`}
          onStopped={(text) => finish(plan.bank, text, samples, null)}
        />
      )}
      <View className="px-[18px]">
        <StopWhen lines={plan.stop} />
      </View>
    </View>
  );
}
const ACCEPTANCE_EVERY_MS = 10 * 60_000;

/** What was found goes to the log with every reading of it, the capacity to the readings too; then the clock is free. */
function useFinish(site: OpenSite, procedure: Procedure, onDone: () => void) {
  const person = usePerson();
  return (
    subject: string,
    said: string,
    samples: readonly Sample[],
    capacity: { value: number; ambient_C: number } | null,
  ) => {
    const table = samples
      .map(({ at, volts, amps }) => `${momentText(at).slice(-5)} ${figure(volts)} V ${figure(amps, 3)} A`)
      .join('; ');
    const backs = [
      addEntry(site, person.name, { kind: 'note', subject, text: `${said} ${table}.` }),
      ...(capacity
        ? [
            addReading(site, {
              subject,
              quantity: 'capacity_Ah',
              value: capacity.value,
              conditions: { ambient_C: capacity.ambient_C },
              ...meterUsed(person.id),
            }),
          ]
        : []),
    ];
    keepRunning(site.id, procedure, null);
    offerUndo('Test saved', () => backs.forEach((back) => back()));
    onDone();
  };
}
