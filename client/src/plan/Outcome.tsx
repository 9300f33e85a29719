import {
  withChecked,
  compare,
  FaultError,
  keyOf,
  sentenceOf,
  settling,
  type Change,
  type Comparison,
  type Model,
} from '@true-lantern/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { Marked } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import type { Base } from './base';

export type Result = { comparison: Comparison; after: Model } | { fault: string };

/** What changes do to a base, by the whole rule book; what contradicts the system is said in a sentence. */
export function useResult(base: Base, changes: Change[] | null): Result | null {
  return useMemo(() => {
    if (!changes) return null;
    try {
      // Judged with what the save settles: a main fuse that goes in is there afterwards.
      const after = withChecked(base.model, settling(base.model, changes));
      return { comparison: compare(base.findings, after), after };
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      return { fault: `Not possible: ${error.faults[0]?.message ?? ''}.` };
    }
  }, [base, changes]);
}

/** What a change would do: findings better and worse, or why it cannot be applied. */
export function Outcome({ base, result }: { base: Base; result: Result }) {
  const pretty = usePretty();
  if ('fault' in result) return <T role="alert">{result.fault}</T>;
  const { broken, worse, cured, hidden, remaining } = result.comparison;
  return (
    <View className="gap-2" testID="outcome" aria-live="polite">
      <Heading level={2} look="station">
        {broken.length > 0
          ? 'It pushes over its limit'
          : worse.length > 0
            ? 'It makes these worse, already over'
            : 'It pushes nothing over its limit'}
      </Heading>
      {broken.map((finding) => (
        <Marked key={keyOf(finding)} verdict="over">
          {pretty(sentenceOf(result.after, finding))}
        </Marked>
      ))}
      {worse.length > 0 && broken.length > 0 ? <T look="head">Already over, and worse</T> : null}
      {worse.map((finding) => (
        <Marked key={keyOf(finding)} verdict="over">
          {`Already over, now: ${pretty(sentenceOf(result.after, finding))}`}
        </Marked>
      ))}
      {cured.length > 0 ? (
        <>
          <T look="head">It fixes</T>
          {cured.map((finding) => (
            <T key={keyOf(finding)} className="line-through">
              {pretty(sentenceOf(base.model, finding))}
            </T>
          ))}
        </>
      ) : null}
      {hidden.length > 0 ? (
        <>
          <T look="head">Was over; can no longer be judged</T>
          {hidden.map((finding) => (
            <Marked key={keyOf(finding)} verdict="unknown">
              {pretty(sentenceOf(base.model, finding))}
            </Marked>
          ))}
        </>
      ) : null}
      {remaining.length > 0 ? (
        <T look="fact">
          {remaining.length === 1 ? '1 finding was' : `${remaining.length} findings were`} was over and still is{' '}
          {remaining.length === 1 ? 'is' : 'are'}, no worse.
        </T>
      ) : null}
    </View>
  );
}
