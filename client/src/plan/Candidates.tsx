import { type LineVerdict, type Specification, type SuccessorCandidate, lowered } from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useShelf } from '../data/shelf';
import { shelfFact } from '../ui/shelf-words';
import { Button, Row } from '../ui/controls';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty, withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { type Base } from './base';
import { LINE_VERDICTS, wanted } from './spec-words';
import { WORDS } from '../ui/words';

/** What is looked for, and where what is found goes. */
export interface SwapProps {
  base: Base;
  spec: Specification;
  mayWrite: boolean;
  onSave(label: string, changes: SuccessorCandidate['changes']): void;
}

/** Of those that nearly serve so many are shown. */
const MOST_NEARLY = 5;

/** What the shelf has for a specification: what meets it, what nearly does. */
export function Shelf({
  base,
  spec,
  shelf,
  mayWrite,
  onSave,
}: SwapProps & { shelf: ReturnType<typeof useShelf>['items'] }) {
  const kinds = useMemo(() => shelf.filter(({ kind }) => kind === spec.shelf), [shelf, spec.shelf]);
  const { data, error } = useAnswer<'candidates'>({ ask: 'candidates', model: base.model, spec, shelf: kinds });
  const [open, setOpen] = useState<string | null>(null);
  const row = (one: SuccessorCandidate, meets: boolean) => {
    const { label } = one.item;
    return (
      <Candidate
        key={label}
        one={one}
        meets={meets}
        open={open === label}
        onOpen={() => setOpen(open === label ? null : label)}
        onSave={mayWrite ? () => onSave(label, one.changes) : null}
      />
    );
  };
  const far = data ? data.others + Math.max(0, data.nearly.length - MOST_NEARLY) : 0;
  return (
    <View testID="candidates">
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
        On the shelf
      </Heading>
      <T look="fact" className="px-[18px]">
        Judged by data sheet values only. Check on site what a data sheet cannot tell.
      </T>
      {error ? <T className="px-[18px]">{error.message}</T> : null}
      {!data && !error ? (
        <T role="status" className="px-[18px] py-2 text-soft">
          Trying each one in the system ...
        </T>
      ) : null}
      {data && data.meet.length === 0 ? (
        <T className="px-[18px] py-2">Nothing on the shelf meets every requirement.</T>
      ) : null}
      {data?.meet.map((one) => row(one, true))}
      {data && data.nearly.length > 0 ? (
        <T look="head" className="px-[18px] pt-4">
          Nearly
        </T>
      ) : null}
      {data?.nearly.slice(0, MOST_NEARLY).map((one) => row(one, false))}
      {far > 0 ? <T look="fact" className="px-[18px] pt-2">{`${far} more are not close.`}</T> : null}
    </View>
  );
}

interface CandidateProps {
  one: SuccessorCandidate;
  meets: boolean;
  open: boolean;
  onOpen(): void;
  /** Null for a reader. */
  onSave: (() => void) | null;
}

/** One part of the shelf in its place: whether it meets every line, what it touches, and opened each line. */
function Candidate({ one, meets, open, onOpen, onSave }: CandidateProps) {
  const pretty = usePretty();
  return (
    <View>
      <Row testID={meets ? 'meets' : 'nearly'} aria-expanded={open} onPress={onOpen}>
        <Mark verdict={meets ? (one.broken.length > 0 ? 'tight' : 'holds') : LINE_VERDICTS[one.verdict][0]} />
        <View className="min-w-0 flex-1">
          <T look="head">
            {one.grouping && one.grouping.series * one.grouping.parallel > 1
              ? `${one.grouping.series * one.grouping.parallel} \u00d7 ${one.item.label}`
              : one.item.label}
          </T>
          <T look="fact">
            {[shelfFact(one.item), one.price === null ? null : withUnit(one.price, one.item.currency ?? null)]
              .filter(Boolean)
              .join(' \u00b7 ')}
          </T>
          {meets ? null : (
            <T look="fact" className="text-ink">
              {ruledOut(one, pretty)}
            </T>
          )}
          {one.broken[0] ? (
            <T look="fact" className="text-ink">
              {`Touches: ${pretty(one.broken[0].text)}${one.broken.length > 1 ? ` And ${one.broken.length - 1} more.` : ''}`}
            </T>
          ) : null}
        </View>
      </Row>
      {open ? <Judged one={one} onSave={onSave} /> : null}
    </View>
  );
}

function Judged({ one, onSave }: Pick<CandidateProps, 'one' | 'onSave'>) {
  const pretty = usePretty();
  return (
    <View className="gap-2 bg-well px-[18px] py-4">
      {one.judged
        .filter(({ line }) => line.test !== 'eyes')
        .map(({ line, verdict }) => (
          <View key={`${line.field} ${line.label}`} className="flex-row items-center gap-3">
            <Mark verdict={LINE_VERDICTS[verdict][0]} size={20} />
            <T className="min-w-0 flex-1">{pretty(line.label)}</T>
            <T look="fact">{`${pretty(wanted(line))}: ${LINE_VERDICTS[verdict][1]}`}</T>
          </View>
        ))}
      {one.broken.map(({ text }) => (
        <T key={text} look="fact" className="text-ink">{`Touches: ${pretty(text)}`}</T>
      ))}
      <T look="fact">{one.cured.length > 0 ? `Fixes ${one.cured.length}.` : 'Fixes nothing that was over.'}</T>
      {onSave ? <Button label={WORDS.saveAsProposal} kind="second" onPress={onSave} /> : null}
    </View>
  );
}

/** "Fails: stands battery volts up to (at least 31 V). Not stated: neutral bond." */
function ruledOut({ judged }: SuccessorCandidate, pretty: (text: string) => string): string {
  const linesOf = (which: LineVerdict) =>
    judged
      .filter(({ line, verdict }) => line.must && verdict === which && line.test !== 'eyes')
      .map(({ line }) => `${lowered(line.label).replace(/, at (least|most)$/, '')} (${wanted(line)})`)
      .join(', ');
  const [fails, open] = [linesOf('fail'), linesOf('not-stated')];
  return [fails && `Fails: ${fails}.`, open && `Not stated: ${open}.`]
    .filter(Boolean)
    .map((text) => pretty(text))
    .join(' ');
}
