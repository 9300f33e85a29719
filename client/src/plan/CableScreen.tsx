import {
  nameIn,
  withChecked,
  compare,
  keyOf,
  sentenceOf,
  sizeWords,
  stepOfSize,
  type Change,
  type Run,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { useUnits } from '../data/units';
import { Button, Row } from '../ui/controls';
import { Mark } from '../ui/mark';
import { Stepper } from '../ui/stepper';
import { T } from '../ui/text';
import { usePretty, sizeText } from '../ui/units';
import { saveOn, useBase, type Base } from './base';
import { PlanPage } from './PlanPage';
import { comparisonText } from './words';
import { WORDS } from '../ui/words';

/** "What if this cable were a size thicker": every cable with what one size, or more, would cure. */
export function CableScreen() {
  const base = useBase();
  const runs = base.model.system.runs ?? [];
  const [open, setOpen] = useState<string | null>(null);
  return (
    <PlanPage title="A larger cable size" base={base}>
      {runs.length === 0 ? <T className="p-[18px] text-soft">No cable is recorded yet.</T> : null}
      {runs.map((run) => (
        <Cable
          key={run.id}
          base={base}
          run={run}
          open={open === run.id}
          onOpen={() => setOpen(open === run.id ? null : run.id)}
        />
      ))}
    </PlanPage>
  );
}

function Cable({ base, run, open, onOpen }: { base: Base; run: Run; open: boolean; onOpen(): void }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const units = useUnits();
  const mayWrite = useMayWrite();
  const [steps, setSteps] = useState(1);
  const size = stepOfSize(run.size, steps);
  const changes = useMemo<Change[]>(
    () => [{ op: 'set', at: 'runs', id: run.id, value: { size, material: 'copper' } }],
    [run.id, size],
  );
  const larger = size !== null && size !== run.size;
  const { result, after } = useMemo(() => {
    const next = withChecked(base.model, larger ? changes : []);
    return { result: compare(base.findings, next), after: next };
  }, [base, changes, larger]);
  const verdict = base.findings.some((finding) => finding.subject === run.id && finding.verdict === 'over')
    ? 'over'
    : 'holds';
  return (
    <View>
      <Row aria-expanded={open} onPress={onOpen} testID={`cable-${run.id}`}>
        <Mark verdict={verdict} />
        <View className="min-w-0 flex-1">
          <T look="head">{nameIn(base.model, run.id)}</T>
          <T look="fact">
            {larger
              ? `${sizeText(run.size, units)} \u2192 ${sizeText(size, units)}`
              : `${sizeText(run.size, units)}, the largest`}
          </T>
          {larger ? <T look="fact">{comparisonText(result)}</T> : null}
        </View>
      </Row>
      {open && larger ? (
        <View className="gap-3 bg-well px-[18px] py-4">
          <Stepper label="Sizes up" value={steps} min={1} max={6} onChange={setSteps} />
          {[
            ...result.cured.map((finding) => ({ finding, model: base.model, cured: true })),
            ...[...result.broken, ...result.worse].map((finding) => ({ finding, model: after, cured: false })),
          ].map(({ finding, model, cured }) => (
            <T key={keyOf(finding)} className={cured ? 'line-through' : ''}>
              {pretty(sentenceOf(model, finding))}
            </T>
          ))}
          {result.cured.length + result.broken.length + result.worse.length === 0 ? (
            <T look="fact">No verdict changes.</T>
          ) : null}
          {mayWrite ? (
            <Button
              label={WORDS.saveAsProposal}
              kind="second"
              onPress={() => saveOn(site, base, `${nameIn(base.model, run.id)} in ${sizeWords(size)}`, changes)}
            />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}
