import type { Phase, PhaseClock, Step } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import type { Ticks } from '../data/work';
import { Row } from '../ui/controls';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { PHASE_WORDS } from './phases';

/** How far the order is, phase by phase: a bar for each, filled as its steps are ticked, and its clock. */
export function PhaseBar({ clocks, now }: { clocks: readonly PhaseClock[]; now: Phase | null }) {
  const all = clocks.reduce((sum, { steps }) => sum + steps, 0);
  const ticked = clocks.reduce((sum, clock) => sum + clock.ticked, 0);
  const mine = clocks.find(({ phase }) => phase === now);
  return (
    <View className="gap-1 px-[18px] pt-3" role="status" testID="phase-bar">
      <View className="h-3 flex-row gap-[3px]">
        {clocks.map(({ phase, steps, ticked: done }) => (
          <View key={phase} className="h-3 bg-well" style={{ flexGrow: steps, flexBasis: 0 }}>
            <View
              className={`h-3 ${phase === now ? 'bg-lamp' : 'bg-ink'}`}
              style={{ width: `${(100 * done) / Math.max(1, steps)}%` }}
            />
          </View>
        ))}
      </View>
      <T look="fact">
        {`${ticked} of ${all} ticked`}
        {mine
          ? `. ${PHASE_WORDS[mine.phase]}: ${mine.planned_min} min planned${mine.taken_min === null ? '' : `, ${mine.taken_min} min so far`}`
          : ''}
      </T>
    </View>
  );
}

/** All steps, phase by phase; each opens as the one that is looked at. */
export function StepList({
  steps,
  ticks,
  current,
  onGo,
}: {
  steps: readonly Step[];
  ticks: Ticks;
  current: string | null;
  onGo(key: string): void;
}) {
  const pretty = usePretty();
  const [open, setOpen] = useState(false);
  const phases = [...new Set(steps.map(({ phase }) => phase))];
  return (
    <View className="pt-6" testID="step-list">
      <Row aria-expanded={open} onPress={() => setOpen(!open)}>
        <T look="station" className="min-w-0 flex-1">{`All ${steps.length} steps`}</T>
        <T look="fact">{open ? 'hide' : 'show'}</T>
      </Row>
      {open
        ? phases.map((phase) => (
            <View key={phase} className="pt-3">
              <Heading level={3} look="head" className="px-[18px]">
                {PHASE_WORDS[phase]}
              </Heading>
              {steps
                .filter((step) => step.phase === phase)
                .map((step) => {
                  const tick = ticks[step.key];
                  return (
                    <Row
                      key={step.key}
                      testID={`step-${step.n}`}
                      aria-current={step.key === current ? 'step' : undefined}
                      onPress={() => onGo(step.key)}
                      className={step.key === current ? 'bg-well' : ''}
                    >
                      <Mark verdict={tick ? (tick.state === 'done' ? 'holds' : 'note') : 'unknown'} size={22} />
                      <View className="min-w-0 flex-1">
                        <T className={tick ? 'text-soft' : ''}>{`${step.n}. ${pretty(step.text)}`}</T>
                        {tick?.reason ? <T look="fact">{tick.reason}</T> : null}
                      </View>
                      {tick?.by ? <T look="small">{tick.by}</T> : null}
                    </Row>
                  );
                })}
            </View>
          ))
        : null}
    </View>
  );
}
