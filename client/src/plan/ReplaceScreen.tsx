import {
  nameIn,
  KIND_ORDER,
  aspectsOf,
  eachPart,
  partTitle,
  leastChanges,
  specify,
  swap,
  type Aspect,
  type PartKind,
  type SpecLine,
  type SuccessorCandidate,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { guessesOf, pathName } from '../data/reading';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { Button, Chip, Row } from '../ui/controls';
import { Mark, Marked } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { useUnits } from '../data/units';
import { inUnits, usePretty } from '../ui/units';
import { saveOn, useBase, type Base } from './base';
import { PlanPage } from './PlanPage';
import { PrintButton } from '../ui/print';
import { ASPECT_WORDS, ruleName, specTitle, wanted } from './spec-words';
import { type SwapProps, Shelf } from './Candidates';

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
        <View role="radiogroup" aria-label="Which part of it" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
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
        Look for on the data sheet
      </Heading>
      <SpecLines lines={spec.lines} />
      <View className="flex-row gap-3 px-[18px] pt-4 print:hidden">
        <Button
          label="Check a product"
          kind="main"
          className="flex-1"
          onPress={() => router.navigate(`/site/${site.id}/plan/counter?${query}`)}
        />
        <PrintButton />
      </View>
      {spec.shelf ? <Shelf base={base} spec={spec} shelf={items} mayWrite={mayWrite} onSave={save} /> : null}
      <Touches base={base} spec={spec} mayWrite={mayWrite} onSave={save} />
      <Heading level={2} look="station" className="px-[18px] pt-6">
        Before you remove it, photograph
      </Heading>
      <T className="px-[18px] pt-1">{spec.capture.join(' \u00b7 ')}</T>
      <T look="fact" className="px-[18px] pt-4">
        Figures are rounded to standard sizes, to the safe side. The maker&apos;s manual and the local code override it.
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
              {line.must ? null : <T look="small">recommended</T>}
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
                  {`Based on an assumed value: ${line.assumed.map((path) => pathName(site, path)).join(', ')}.`}
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

/** What else this affects, were one made to just this specification. */
function Touches({ base, spec, mayWrite, onSave }: SwapProps) {
  const pretty = usePretty();
  const made = useMemo(() => {
    if (spec.conflicts.length > 0 || spec.lines.some(({ missing, must }) => must && missing.length > 0)) return null;
    if (spec.aspect === 'module') return null;
    const label =
      spec.aspect === 'part'
        ? `${nameIn(base.model, spec.partId).replace(/, to be chosen$/, '')}, to be chosen`
        : undefined;
    return swap(base.model, base.findings, leastChanges(base.model, spec, label));
  }, [base, spec]);
  if (!made) return null;
  return (
    <View className="gap-2 px-[18px] pt-6" testID="touches">
      <Heading level={2} look="station">
        What else this affects
      </Heading>
      {made.broken.length === 0 ? <T>Nothing: cables, fuses and settings stay as they are.</T> : null}
      {made.broken.map(({ text }) => (
        <Marked key={text} verdict="over">
          {pretty(text)}
        </Marked>
      ))}
      {made.cured.length > 0 ? <T look="fact">{`A part with exactly this spec fixes ${made.cured.length}.`}</T> : null}
      {mayWrite ? (
        <Button
          label="Save as proposal, part to be chosen"
          kind="second"
          onPress={() => onSave('to be chosen', made.changes)}
        />
      ) : null}
    </View>
  );
}
