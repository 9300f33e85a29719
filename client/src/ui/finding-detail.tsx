import { CONSEQUENCE_WORDS, sentenceOf, titleOf, type Finding, type Model, lowered } from '@true-lantern/core';
import type { PropsWithChildren } from 'react';
import { View } from 'react-native';
import { useUnits } from '../data/units';
import { Mark, VERDICT_WORDS } from './mark';
import { TermHelp } from './term';
import { Heading, T } from './text';
import { inUnits, usePretty } from './units';
import { Wick } from './wick';

interface FindingDetailProps {
  finding: Finding;
  model: Model;
  /** What an input's path is called on the screen. */
  nameOf(path: string): string;
  width?: number;
}

/** One finding opened: sentence, bar in its unit, working line by line, what it rests on, school, cautions. */
export function FindingDetail({
  finding,
  model,
  nameOf,
  width = 340,
  children,
}: PropsWithChildren<FindingDetailProps>) {
  const pretty = usePretty();
  const units = useUnits();
  const { verdict, demand, limit, unit, use, assumed, missing, working, school, cautions } = finding;
  const [there, limited] = [demand, limit].map((value) => (value === null ? '' : inUnits(value, unit, units)));
  return (
    <View className="gap-3 py-4" testID={`finding-${finding.rule}`}>
      <View className="flex-row gap-3">
        <Mark verdict={verdict} />
        <View className="min-w-0 flex-1">
          <Heading level={2} look="station">
            {pretty(sentenceOf(model, finding))}
          </Heading>
          <T look="fact">
            {VERDICT_WORDS[verdict]} {'\u00b7'} {CONSEQUENCE_WORDS[finding.consequence]} {'\u00b7'}{' '}
            {lowered(titleOf(finding))}
          </T>
        </View>
      </View>
      {demand !== null && limit !== null ? (
        <View>
          <Wick
            use={use ?? (verdict === 'over' ? 1.25 : 0)}
            tightAbove={finding.tightAbove ?? 1}
            width={width}
            label={finding.sense === 'max' ? `${there} of ${limited}` : `${there}; ${limited} needed`}
          />
          <View className="flex-row justify-between" style={{ width: width * 0.8 + 30 }}>
            <T look="fact">0</T>
            <T look="fact" className="font-semi text-ink">
              {finding.sense === 'max' ? limited : `${limited} wanted`}
            </T>
          </View>
        </View>
      ) : null}
      {working.length > 0 ? (
        <View>
          {working.map((line, i) => (
            <T key={i} look={i === working.length - 1 ? 'result' : 'mono'}>
              {pretty(line, true)}
            </T>
          ))}
        </View>
      ) : null}
      {missing.length > 0 ? <T look="fact">Not known: {missing.map(nameOf).join('; ')}.</T> : null}
      {assumed.length > 0 ? (
        <T look="fact">
          Based on {assumed.length === 1 ? 'an assumed value' : 'assumed values'}:{' '}
          <T look="fact" className="border-b-2 border-dotted border-ink text-ink">
            {assumed.map(nameOf).join('; ')}
          </T>
          .
        </T>
      ) : null}
      {school ? <T look="fact">Design standard: {pretty(school)}.</T> : null}
      <TermHelp of={finding.rule} />
      {children}
      {cautions.map((caution) => (
        <T key={caution} look="fact" className="border-l-4 border-ink pl-3 text-ink">
          {caution}
        </T>
      ))}
    </View>
  );
}
