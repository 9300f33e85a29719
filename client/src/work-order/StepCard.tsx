import {
  bringsVolts,
  waitsFor,
  type Judgement,
  type Model,
  type Proposal,
  type Step,
  type Work,
  bandText,
  readingText,
  lowered,
} from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { addReading } from '../data/readings';
import { useIsLicensed, useMayWrite, usePerson } from '../data/session';
import { tickStep, untick, type Ticks } from '../data/work';
import { useUnits } from '../data/units';
import { ReadingPad } from '../entry/ReadingPad';
import { Button } from '../ui/controls';
import { momentText } from '../ui/dates';
import { TextField } from '../ui/field';
import { Marked } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { usePretty } from '../ui/units';
import { Deviations } from './Deviations';
import { shortOf } from './Kit';
import { PHASE_WORDS } from './phases';
import { WORDS } from '../ui/words';

interface Props {
  step: Step;
  work: Work;
  proposal: Proposal;
  after: Model;
  ticks: Ticks;
  /** What ends the visit until it is made safe. */
  stops: string[];
  onGo(key: string | null): void;
}

/** One step, large enough to be read lying on one side: what to do, why, what it waits for, and the tick. */
export function StepCard({ step, work, proposal, after, ticks, stops, onGo }: Props) {
  const pretty = usePretty();
  const { steps } = work;
  const at = steps.indexOf(step);
  const tick = ticks[step.key];
  return (
    <View className="gap-4 px-[18px] pb-2 pt-4" testID="step">
      <View className="flex-row items-center justify-between gap-3">
        <T look="head" className="text-soft" testID="step-number">
          {`${PHASE_WORDS[step.phase]} \u00b7 step ${step.n} of ${steps.length}`}
        </T>
        <T look="fact">{`${step.minutes} min`}</T>
      </View>
      <Heading level={2} look="pad" testID="step-text">
        {pretty(step.text)}
      </Heading>
      <T>{`Why: ${pretty(step.why)}.`}</T>
      {step.tool ? (
        <T>{`With: ${step.tool}${step.torque_Nm ? `, ${step.torque_Nm} Nm unless its maker says otherwise` : ''}.`}</T>
      ) : null}
      {step.cautions.map((caution) => (
        <T key={caution} look="fact" className="border-l-4 border-ink pl-3 text-ink">
          {caution}
        </T>
      ))}
      {tick ? (
        <Ticked step={step} tick={tick} proposal={proposal} />
      ) : (
        <ToTick step={step} work={work} proposal={proposal} ticks={ticks} stops={stops} onDone={() => onGo(null)} />
      )}
      <Deviations step={step} proposal={proposal} after={after} />
      <View className="flex-row gap-3">
        <Button
          label="Before"
          className="flex-1"
          disabled={at === 0}
          onPress={() => onGo(steps[at - 1]?.key ?? null)}
        />
        <Button
          label={WORDS.next}
          className="flex-1"
          disabled={at === steps.length - 1}
          onPress={() => onGo(steps[at + 1]?.key ?? null)}
        />
      </View>
    </View>
  );
}

function Ticked({ step, tick, proposal }: { step: Step; tick: Ticks[string]; proposal: Proposal }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  return (
    <View className="gap-2 bg-well p-3" testID="ticked">
      <Marked verdict={tick.state === 'done' ? 'holds' : 'note'}>
        {`${tick.state === 'done' ? 'Done' : 'Skipped'}, ${tick.by ?? ''}${tick.at ? `, ${momentText(tick.at)}` : ''}${tick.reason ? `: ${tick.reason}` : ''}`}
      </Marked>
      {typeof tick.value === 'number' ? (
        <T>{`Read: ${pretty(String(tick.value))} ${step.expect?.unit ?? ''}`}</T>
      ) : null}
      {mayWrite ? <Button label="Undo this tick" onPress={() => untick(site, proposal, step.key)} /> : null}
    </View>
  );
}

interface TickProps {
  step: Step;
  work: Work;
  proposal: Proposal;
  ticks: Ticks;
  stops: string[];
  onDone(): void;
}

interface Read {
  value: number;
  judged: Judgement | null;
}

/** Ticks or skips the step; what was read for it is a reading of the site too. */
function useTick({ step, proposal, onDone }: TickProps) {
  const site = useOpenSite();
  const person = usePerson();
  return (state: 'done' | 'skipped', why: string | undefined, reading: Read | null) => {
    const value = reading?.value;
    const back = tickStep(
      site,
      proposal.id,
      step.key,
      { id: person.id, name: person.name },
      {
        state,
        ...(why ? { reason: why } : {}),
        ...(value === undefined ? {} : { value }),
      },
    );
    if (value !== undefined && step.expect && state === 'done')
      addReading(site, {
        subject: step.expect.subject,
        quantity: step.expect.quantity,
        value,
        ...(step.expect.position ? { position: step.expect.position } : {}),
        note: `Order of work, step ${step.n}`,
      });
    offerUndo(`Step ${step.n}: ${state}`, back);
    onDone();
  };
}

/** The tick, or what forbids it: a stop card, a licence that is not there, a reader. */
function ToTick(props: TickProps) {
  const { step, stops } = props;
  const mayWrite = useMayWrite();
  const licensed = useIsLicensed();
  if (!mayWrite) return <T className="text-soft">You can view this, not change it.</T>;
  if (stops.length > 0 && bringsVolts(step))
    return (
      <View role="alert" testID="stopped" className="gap-2 border-4 border-ink p-3">
        <T look="head">Stopped: switch nothing on until this is safe.</T>
        {stops.map((title) => (
          <T key={title}>{title}</T>
        ))}
        <T look="fact">Resolve it on the stop card in Survey.</T>
      </View>
    );
  if (step.withheld)
    return (
      <View role="alert" testID="withheld" className="gap-2 border-4 border-ink p-3">
        <T look="head">Do not switch this on.</T>
        <T>This proposal leaves a danger here. Change the proposal in Plan, or skip this step with a reason.</T>
        <SkipWithheld {...props} />
      </View>
    );
  if (step.licensed && !licensed)
    return (
      <View role="alert" testID="needs-licence" className="gap-2 border-2 border-ink p-3">
        <T look="head">Licensed work.</T>
        <T>
          Only a licensed person may do and tick AC and building work. Your licence is not recorded; an owner can add it
          under People.
        </T>
      </View>
    );
  return <Tick {...props} />;
}

/** A step that is withheld may be left out, with a reason; it is never done. */
function SkipWithheld(props: TickProps) {
  const tick = useTick(props);
  const [asking, setAsking] = useState(false);
  return asking ? (
    <Reason asking="skip" before="" onGive={(why) => tick('skipped', why, null)} onBack={() => setAsking(false)} />
  ) : (
    <Button label="Skip (reason)" onPress={() => setAsking(true)} />
  );
}

/** The tick, with what it waits for, what is short, and the reading that it takes. */
function Tick(props: TickProps) {
  const { step, work, proposal, ticks } = props;
  const pretty = usePretty();
  const person = usePerson();
  const tick = useTick(props);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [read, setRead] = useState<Read | null>(null);
  const waiting = waitsFor(step, work.steps, ticks);
  const short = step.act === 'fit' ? shortFor(step, proposal, work) : [];
  const before = `step ${waiting.map(({ n }) => n).join(', ')}`;
  if (asking)
    return (
      <Reason
        asking={asking}
        before={before}
        onGive={(why) => tick(asking === 'skip' ? 'skipped' : 'done', why, read)}
        onBack={() => setAsking(null)}
      />
    );
  const wrong = read?.judged === 'outside';
  const taken = (value: number, judged: Judgement | null) => {
    if (judged !== 'outside' && waiting.length === 0) return tick('done', undefined, { value, judged });
    setRead({ value, judged });
    if (judged !== 'outside') setAsking('early');
  };
  return (
    <View className="gap-3">
      {step.licensed ? <T look="fact">{`Licensed work: ${person.licence ?? ''}`}</T> : null}
      {short.length > 0 ? (
        <T look="head">{`Not on the van yet: ${short.map(({ what }) => pretty(lowered(what))).join('; ')}.`}</T>
      ) : null}
      {waiting.length > 0 ? <T look="fact" testID="waits">{`Waits for ${before}.`}</T> : null}
      {step.expect && read === null ? (
        <View className="gap-2" testID="step-reading">
          <T look="head">Enter the reading</T>
          <ReadingPad quantity={step.expect.quantity} test={step.expect} label="Done, save reading" onSave={taken} />
        </View>
      ) : null}
      {wrong ? (
        <WrongReading step={step} read={read} onAgain={() => setRead(null)} onGoOn={() => setAsking('wrong')} />
      ) : null}
      {(!step.expect || read !== null) && !wrong ? (
        <Button
          label={WORDS.done}
          kind="main"
          className="min-h-[72px]"
          testID="tick"
          onPress={() =>
            step.asksReason
              ? setAsking('answer')
              : waiting.length > 0
                ? setAsking('early')
                : tick('done', undefined, read)
          }
        />
      ) : null}
      <Button label="Skip (give a reason)" kind="plain" onPress={() => setAsking('skip')} />
    </View>
  );
}

/** Lines of the kit that this step needs and nobody has: small things that are always in the van are not asked for. */
const shortFor = (step: Step, proposal: Proposal, work: Work) =>
  shortOf(proposal, work).filter(
    (line) => !/^(Spare|Cable glands)/.test(line.what) && line.for.some((id) => step.parts.includes(id)),
  );

type Asking = 'skip' | 'early' | 'wrong' | 'answer';

interface ReasonProps {
  asking: Asking;
  /** The steps that are not ticked yet, in words. */
  before: string;
  onGive(why: string): void;
  onBack(): void;
}

function Reason({ asking, before, onGive, onBack }: ReasonProps) {
  const [reason, setReason] = useState('');
  return (
    <View className="gap-3 border-l-4 border-ink pl-3" testID="reason">
      <T look="head">
        {asking === 'skip'
          ? 'Why skip it?'
          : asking === 'answer'
            ? 'You take responsibility with your name. Why start anyway?'
            : asking === 'early'
              ? `Not ticked yet: ${before}. Why do this one first?`
              : 'The reading is outside its band. Why continue?'}
      </T>
      <TextField label="Reason" value={reason} onChangeText={setReason} autoFocus />
      <Button
        label={
          asking === 'skip' ? 'Skip this step' : asking === 'answer' ? 'I take responsibility' : 'Mark as done anyway'
        }
        kind="main"
        className="min-h-[64px]"
        disabled={reason.trim().length < 3}
        onPress={() => onGive(reason.trim())}
      />
      <Button label={WORDS.back} onPress={onBack} />
    </View>
  );
}

interface WrongReadingProps {
  step: Step;
  read: Read;
  onAgain(): void;
  onGoOn(): void;
}

/** The order stops here until somebody reads again or says why it goes on. */
function WrongReading({ step, read, onAgain, onGoOn }: WrongReadingProps) {
  const units = useUnits();
  return (
    <View role="alert" testID="order-stopped" className="gap-2 border-4 border-ink p-3">
      <T look="head">{`Stop: ${step.expect ? readingText(read.value, step.expect.unit, units) : ''} is outside ${step.expect ? bandText(step.expect, units) : ''}.`}</T>
      <T>{WHAT_NOW[step.act] ?? 'Leave it as it is, find the cause, and measure again.'}</T>
      <View className="flex-row gap-3">
        <Button label="Measure again" kind="main" className="flex-1" onPress={onAgain} />
        <Button label="Continue (give a reason)" className="flex-1" onPress={onGoOn} />
      </View>
    </View>
  );
}

/** What to do when a reading is wrong, by what was read for. */
const WHAT_NOW: Readonly<Record<string, string>> = {
  polarity:
    'Do not close anything. If the reading is negative, the poles are swapped: undo the connection and measure again. If the voltage is too low or too high, count blocks or modules and look for one that is reversed or missing.',
  'inverter-on':
    'Switch it off again. Too high: something is plugged in, or it is another model. Too low: it is in standby, or the clamp is on the wrong lead.',
  'load-on':
    'Switch the load off. The connection to the bank drops too much voltage: feel for a warm joint, measure the drop of each cable run, then start again.',
};
