import { nameIn, counted, canRaise, figure, voltageFor, VOLTAGES, type VoltageChange } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { pathName } from '../data/reading';
import { useMayWrite } from '../data/session';
import { useUnits } from '../data/units';
import { Button, Chip } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { sizeText, withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { saveOn, useBase } from './base';
import { Outcome, useResult } from './Outcome';
import { PartVerdicts } from './PartVerdicts';
import { PlanPage } from './PlanPage';
import { WORDS } from '../ui/words';

/** From 12 to 24 or 48 V: what is replaced, what is set anew, and what it saves in amperes and copper. */
export function VoltageScreen() {
  const site = useOpenSite();
  const base = useBase();
  const mayWrite = useMayWrite();
  const now = base.model.system.nominal_V ?? 0;
  const steps = VOLTAGES.filter((volts) => volts > now);
  const advised = voltageFor(base.model);
  const [chosen, setChosen] = useState<number | null>(null);
  const to_V = steps.find((volts) => volts === (chosen ?? advised)) ?? steps[0] ?? 0;
  const { data, error } = useAnswer<'voltage'>({ ask: 'voltage', model: base.model, to_V });
  const raised = data ?? null;
  const result = useResult(base, raised?.changes ?? null);
  const replaced = counted(raised?.parts.filter(({ verdict }) => verdict === 'replace').length ?? 0, 'part');
  const saved = raised ? raised.copper_kg.before - raised.copper_kg.after : 0;
  return (
    <PlanPage title="Raise the voltage" base={base}>
      <View className="gap-3">
        {to_V && raised ? (
          <View className="gap-4 px-[18px] pt-3">
            <View role="radiogroup" aria-label="Volts" className="flex-row gap-2">
              {steps.map((volts) => (
                <Chip key={volts} label={`${now} to ${volts} V`} on={volts === to_V} onPress={() => setChosen(volts)} />
              ))}
            </View>
            <T look="lead" testID="voltage-lead">
              {saved > 0.05
                ? `${figure(saved, 2)} kg less copper is enough; ${replaced} to replace.`
                : `${replaced} to replace; the copper needed stays the same.`}
            </T>
            {raised.missing.map((path) => (
              <T key={path} className="text-lamp">{`Not known, so not judged: ${pathName(site, path)}`}</T>
            ))}
            {advised === now ? (
              <T look="fact">{`For inverters of this size ${now} V is common: up to 1.5 kW at 12 V, up to 4 kW at 24 V.`}</T>
            ) : null}
            <Currents currents={raised.currents} />
            <PartVerdicts
              parts={raised.parts}
              nameOf={(id) => nameIn(result && 'after' in result ? result.after : base.model, id)}
            />
            {result ? <Outcome base={base} result={result} /> : null}
            {mayWrite && result && 'comparison' in result ? (
              <Button
                label={WORDS.saveAsProposal}
                kind="second"
                onPress={() => saveOn(site, base, `From ${now} to ${to_V} V`, raised.changes)}
              />
            ) : null}
          </View>
        ) : canRaise(base.model) ? (
          <T role="status" className="p-[18px] text-soft">
            {error ? error.message : 'Working through the parts ...'}
          </T>
        ) : (
          <T className="p-[18px]">
            {now
              ? `${figure(now)} V is the highest voltage common here.`
              : 'Record the system voltage and the bank first.'}
          </T>
        )}
      </View>
    </PlanPage>
  );
}

/** What each run carries before and after, and the thinnest cable for either. */
function Currents({ currents }: { currents: VoltageChange['currents'] }) {
  const units = useUnits();
  return (
    <View testID="currents">
      <Heading level={2} look="station">
        Design current and minimum cable
      </Heading>
      {currents.map(({ id, label, before_A, after_A, sizeBefore, sizeAfter }) => (
        <View key={id} className="border-b border-rule py-2">
          <View className="flex-row items-center gap-3">
            <T className="min-w-0 flex-1">{label}</T>
            <T look="head">
              {before_A === null || after_A === null
                ? 'not known'
                : `${withUnit(before_A, 'A')} \u2192 ${withUnit(after_A, 'A')}`}
            </T>
          </View>
          <T look="fact">
            {sizeBefore && sizeAfter
              ? sizeBefore === sizeAfter
                ? `${sizeText(sizeBefore, units)} before and after`
                : `${sizeText(sizeBefore, units)} \u2192 ${sizeText(sizeAfter, units)}`
              : 'size unknown'}
          </T>
        </View>
      ))}
    </View>
  );
}
