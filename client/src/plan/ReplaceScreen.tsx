import {
  KIND_ORDER,
  aspectsOf,
  eachPart,
  partTitle,
  leastBody,
  specify,
  swap,
  swapChanges,
  type Aspect,
  type LineVerdict,
  type PartKind,
  type Specification,
  type SpecLine,
  type SuccessorCandidate,
  lowered,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { guessesOf, pathName } from '../data/reading';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { shelfFact } from '../kit/shelf-words';
import { Button, Chip, Row } from '../kit/controls';
import { Mark, Marked } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { useUnits } from '../data/units';
import { inUnits, usePretty, withUnit } from '../kit/units';
import { useAnswer } from '../workers/engine';
import { nameIn, saveOn, useBase, type Base } from './base';
import { PlanPage } from './PlanPage';
import { PrintButton } from '../kit/print';
import { ASPECT_WORDS, LINE_VERDICTS, ruleName, specTitle, wanted } from './spec-words';

/** A successor for one part: the least that the whole system needs of it, and what the shelf has. */
export function ReplaceScreen() {
  const { part, aspect } = useLocalSearchParams<{ part?: string; aspect?: Aspect }>();
  const base = useBase();
  const placed = eachPart(base.model.system).find((each) => each.part.id === part);
  return placed && part ? (
    <Successor
      key={`${part} ${aspect} ${base.id}`}
      base={base}
      partId={part}
      kind={placed.kind}
      aspect={aspect ?? aspectsOf(placed.kind)[0] ?? 'part'}
    />
  ) : (
    <Which base={base} />
  );
}

/** Which part: what is over stands first within its kind. */
function Which({ base }: { base: Base }) {
  const parts = eachPart(base.model.system)
    .filter(({ kind }) => aspectsOf(kind).length > 0)
    .map((placed) => ({
      ...placed,
      over: base.findings.filter(({ subject, verdict }) => subject === placed.part.id && verdict === 'over').length,
    }));
  const kinds = KIND_ORDER.filter((kind) => parts.some((part) => part.kind === kind));
  return (
    <PlanPage title="Replace a part" base={base}>
      {parts.length === 0 ? <T className="p-[18px] text-soft">No part is recorded yet.</T> : null}
      {kinds.map((kind: PartKind) => (
        <View key={kind}>
          <Heading level={2} look="station" className="px-[18px] pb-1 pt-5">
            {KIND_WORDS[kind] ?? kind}
          </Heading>
          {parts
            .filter((part) => part.kind === kind)
            .sort((a, b) => b.over - a.over)
            .map(({ part, over }) => (
              <Row key={part.id} testID={`replace-${part.id}`} onPress={() => router.setParams({ part: part.id })}>
                {over > 0 ? <Mark verdict="over" /> : null}
                <T className="min-w-0 flex-1">{partTitle(base.model.system, part.id)}</T>
                {over > 0 ? <T look="fact">{`${over} over`}</T> : null}
              </Row>
            ))}
        </View>
      ))}
    </PlanPage>
  );
}

interface SuccessorProps {
  base: Base;
  partId: string;
  kind: PartKind;
  aspect: Aspect;
}

function Successor({ base, partId, kind, aspect }: SuccessorProps) {
  const pretty = usePretty();
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { items } = useShelf();
  const name = nameIn(base.model, partId);
  const spec = useMemo(() => specify(base.model, partId, aspect), [base, partId, aspect]);
  const aspects = aspectsOf(kind);
  if (!spec) return null;
  const save = (label: string, changes: SuccessorCandidate['changes']) =>
    saveOn(site, base, `${name}: ${label}`, changes);
  const query = new URLSearchParams({ part: partId, aspect, ...(base.id ? { on: base.id } : {}) }).toString();
  return (
    <PlanPage title={specTitle(name, spec)} base={base}>
      {aspects.length > 1 ? (
        <View role="radiogroup" aria-label="What of it" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
          {aspects.map((each) => (
            <Chip
              key={each}
              label={ASPECT_WORDS[each]}
              on={each === aspect}
              onPress={() => router.setParams({ aspect: each })}
            />
          ))}
        </View>
      ) : null}
      {spec.conflicts.map((conflict) => (
        <View key={conflict} className="flex-row items-center gap-3 px-[18px] pt-4" role="alert">
          <Mark verdict="over" />
          <T className="min-w-0 flex-1">{pretty(conflict)}</T>
        </View>
      ))}
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-5">
        The sheet must state
      </Heading>
      <SpecLines lines={spec.lines} />
      <View className="flex-row gap-3 px-[18px] pt-4 print:hidden">
        <Button
          label="At the counter"
          kind="main"
          className="flex-1"
          onPress={() => router.navigate(`/site/${site.id}/plan/counter?${query}`)}
        />
        <PrintButton />
      </View>
      {spec.shelf ? <Shelf base={base} spec={spec} shelf={items} mayWrite={mayWrite} onSave={save} /> : null}
      <Touches base={base} spec={spec} mayWrite={mayWrite} onSave={save} />
      <Heading level={2} look="station" className="px-[18px] pt-6">
        Before it comes out, a photo of
      </Heading>
      <T className="px-[18px] pt-1">{spec.capture.join(' \u00b7 ')}</T>
      <T look="fact" className="px-[18px] pt-4">
        Each figure is rounded to what is sold, towards the safe side. The maker&apos;s manual and the local code
        override it.
      </T>
    </PlanPage>
  );
}

/** Line by line; a tap opens the working behind it. */
export function SpecLines({ lines }: { lines: SpecLine[] }) {
  const pretty = usePretty();
  const units = useUnits();
  const site = useOpenSite();
  const guesses = useMemo(() => guessesOf(site), [site]);
  const [open, setOpen] = useState<number | null>(null);
  return (
    <View testID="spec">
      {lines.map((line, i) => (
        <View key={`${line.field} ${line.label}`}>
          <Row aria-expanded={open === i} onPress={() => setOpen(open === i ? null : i)}>
            <View className="min-w-0 flex-1">
              <T>{pretty(line.label)}</T>
              {line.must ? null : <T look="small">worth having</T>}
            </View>
            <View className="max-w-[58%] items-end">
              <T
                look="head"
                className={`text-right ${line.missing.length > 0 ? 'text-lamp' : ''} ${line.assumed.some((path) => guesses.has(path)) ? 'border-b-2 border-dotted border-ink' : ''}`}
              >
                {line.test === 'eyes' ? '' : pretty(wanted(line))}
              </T>
              <T look="small" className="text-right">
                {ruleName(line)}
              </T>
            </View>
          </Row>
          {open === i ? (
            <View className="gap-1 bg-well px-[18px] py-3">
              {line.missing.map((path) => (
                <T key={path}>{`Not known: ${pathName(site, path)}`}</T>
              ))}
              {line.assumed.length > 0 ? (
                <T look="fact" className="text-ink">
                  {`Rests on a guess or default: ${line.assumed.map((path) => pathName(site, path)).join(', ')}.`}
                </T>
              ) : null}
              {line.why.map((text) => (
                <T key={text} look="mono">
                  {pretty(text)}
                </T>
              ))}
              {line.exact !== null && typeof line.value === 'number' && line.exact !== line.value ? (
                <T look="result">{`${inUnits(line.exact, line.unit, units, 4)}, as sold ${inUnits(line.value, line.unit, units, 4)}`}</T>
              ) : null}
            </View>
          ) : null}
        </View>
      ))}
    </View>
  );
}

interface SwapProps {
  base: Base;
  spec: Specification;
  mayWrite: boolean;
  onSave(label: string, changes: SuccessorCandidate['changes']): void;
}

/** Of those that nearly serve so many are shown. */
const MOST_NEARLY = 5;

function Shelf({ base, spec, shelf, mayWrite, onSave }: SwapProps & { shelf: ReturnType<typeof useShelf>['items'] }) {
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
        By what a sheet can state; what only eyes can tell is still to be seen.
      </T>
      {error ? <T className="px-[18px]">{error.message}</T> : null}
      {!data && !error ? (
        <T role="status" className="px-[18px] py-2 text-soft">
          Trying each in its place ...
        </T>
      ) : null}
      {data && data.meet.length === 0 ? <T className="px-[18px] py-2">Nothing on the shelf meets every line.</T> : null}
      {data?.meet.map((one) => row(one, true))}
      {data && data.nearly.length > 0 ? (
        <T look="head" className="px-[18px] pt-4">
          Nearly
        </T>
      ) : null}
      {data?.nearly.slice(0, MOST_NEARLY).map((one) => row(one, false))}
      {far > 0 ? <T look="fact" className="px-[18px] pt-2">{`${far} more are far from it.`}</T> : null}
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
      <T look="fact">{one.cured.length > 0 ? `Cures ${one.cured.length}.` : 'Cures nothing that was over.'}</T>
      {onSave ? <Button label="Save as a proposal" kind="second" onPress={onSave} /> : null}
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

/** What else the swap touches, were one made to just this specification. */
function Touches({ base, spec, mayWrite, onSave }: SwapProps) {
  const pretty = usePretty();
  const made = useMemo(() => {
    if (spec.conflicts.length > 0 || spec.lines.some(({ missing, must }) => must && missing.length > 0)) return null;
    if (spec.aspect === 'module') return null;
    const label =
      spec.aspect === 'part'
        ? `${nameIn(base.model, spec.partId).replace(/, to be chosen$/, '')}, to be chosen`
        : undefined;
    return swap(base.model, base.findings, swapChanges(base.model, spec, leastBody(spec), label));
  }, [base, spec]);
  if (!made) return null;
  return (
    <View className="gap-2 px-[18px] pt-6" testID="touches">
      <Heading level={2} look="station">
        What else the swap touches
      </Heading>
      {made.broken.length === 0 ? <T>By the rules nothing: cables, fuses and settings stay as they are.</T> : null}
      {made.broken.map(({ text }) => (
        <Marked key={text} verdict="over">
          {pretty(text)}
        </Marked>
      ))}
      {made.cured.length > 0 ? <T look="fact">{`One of just this specification cures ${made.cured.length}.`}</T> : null}
      {mayWrite ? (
        <Button
          label="Save as a proposal, part to be chosen"
          kind="second"
          onPress={() => onSave('to be chosen', made.changes)}
        />
      ) : null}
    </View>
  );
}
