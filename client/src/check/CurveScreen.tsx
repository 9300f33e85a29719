import {
  cellsInSeries,
  CHEMISTRY,
  createLedger,
  figure,
  type Model,
  type PartOf,
  type ShadeAnswer,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { partName } from '../data/reading';
import { rowOfPart, setFields } from '../data/site';
import { Button, Chip, Plain } from '../ui/controls';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { CurveChart } from './CurveChart';
import { ampsAt } from './curve-layout';
import { WORDS } from '../ui/words';

/** A tap takes light away, in steps; after the last it is bright again. */
const STEPS = [1, 0.6, 0.3, 0] as const;
const SUNS = [1000, 800, 400, 200] as const;
const CELLS = [-10, 25, 50, 65] as const;

/** The array's own curves under a shade put on it by thumb, and the same modules wired otherwise. */
export function CurveScreen({ arrayId }: { arrayId: string }) {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const array = site.model.system.arrays?.find(({ id }) => id === arrayId);
  const [light, setLight] = useState<number[][]>(() =>
    (array?.strings ?? []).map((string, i) => string.map((_, m) => array?.shade?.[i]?.[m] ?? 1)),
  );
  const [sun, setSun] = useState<number>(1000);
  const [cell, setCell] = useState<number>(25);
  const { data } = useAnswer<'shade'>({
    ask: 'shade',
    model: site.model,
    arrayId,
    irradiance_W_m2: sun,
    cell_C: cell,
    light,
  });
  if (!array)
    return (
      <Plain title="This array is not recorded.">
        <Button label={WORDS.back} onPress={() => router.navigate(`/site/${site.id}/check`)} />
      </Plain>
    );
  const dim = (s: number, m: number) =>
    setLight((all) =>
      all.map((string, i) =>
        string.map((value, k) =>
          i === s && k === m ? (STEPS[(STEPS.indexOf(value as never) + 1) % STEPS.length] ?? 1) : value,
        ),
      ),
    );
  const row = rowOfPart(site, arrayId);
  const noted = JSON.stringify(array.shade ?? null);
  const bright = light.every((string) => string.every((value) => value === 1));
  const differs = JSON.stringify(bright ? null : light) !== noted;
  const note = () => row && setFields(site, row, { shade: bright ? null : light });
  const { at_V, limit_W, pwm } = heldBy(site.model, array);
  return (
    <View className="flex-1">
      <Top
        title={partName(site, array.id)}
        onBack={() => (router.canGoBack() ? router.back() : router.navigate(`/site/${site.id}/check`))}
      />
      <ScrollView>
        <View className="max-w-[860px] gap-4 px-[18px] pb-10 pt-4">
          {data ? (
            <CurveChart answer={data} bank_V={at_V} controller={{ limit_W, pwm }} />
          ) : (
            <T role="status">Drawing the curves ...</T>
          )}
          {data ? <Summary answer={data} held_V={pwm ? at_V : null} limit_W={limit_W} /> : null}
          <View className="gap-2">
            <T look="head">Shade: tap a module to shade it</T>
            <Modules light={light} onDim={dim} />
          </View>
          {mayWrite && differs ? (
            <Button label={bright ? 'Clear the recorded shade' : 'Save this shade for the layouts'} onPress={note} />
          ) : null}
          {!differs && !bright ? <T look="fact">Saved. The layouts in Plan now take it into account.</T> : null}
          <Weather sun={sun} cell={cell} onSun={setSun} onCell={setCell} />
          {data && data.wirings.length > 1 ? <Wirings answer={data} /> : null}
        </View>
      </ScrollView>
    </View>
  );
}

/** The volts at which the bank holds the array, and the watts at which its controller's output is full; null where it does not. */
function heldBy(model: Model, array: PartOf<'arrays'>) {
  const { bank, controllers } = model.system;
  const bank_V = bank ? cellsInSeries(createLedger(model), bank) * CHEMISTRY[bank.chemistry].absorb_V : null;
  const at_V = bank_V !== null && Number.isFinite(bank_V) ? bank_V : null;
  const controller = controllers?.find(({ id }) => id === array.controllerId) ?? null;
  const pwm = controller?.type === 'pwm';
  // Of mppt alone: a pwm controller passes on the amperes, whatever the volts.
  const limit_W = controller && !pwm && at_V !== null && controller.maxOutput_A ? controller.maxOutput_A * at_V : null;
  return { at_V, limit_W, pwm };
}

/** The modules as they are strung, each with the light that it is left. */
const Modules = ({ light, onDim }: { light: readonly number[][]; onDim(s: number, m: number): void }) => (
  <>
    {light.map((string, s) => (
      <View key={s} className="flex-row flex-wrap gap-1">
        {string.map((value, m) => (
          <Pressable
            key={m}
            role="button"
            aria-label={`String ${s + 1}, module ${m + 1}: ${100 * value} % of the light`}
            testID={`module-${s}.${m}`}
            onPress={() => onDim(s, m)}
            className={`h-14 w-16 items-center justify-center border-2 border-ink ${value === 1 ? '' : value >= 0.6 ? 'bg-well' : value > 0 ? 'bg-rule' : 'bg-ink'}`}
          >
            <T className={value === 0 ? 'font-semi text-paper' : 'font-semi'}>{100 * value}</T>
          </Pressable>
        ))}
      </View>
    ))}
  </>
);

interface WeatherProps {
  sun: number;
  cell: number;
  onSun(W_m2: number): void;
  onCell(C: number): void;
}

const Weather = ({ sun, cell, onSun, onCell }: WeatherProps) => (
  <>
    <View role="radiogroup" aria-label="Sun" className="flex-row flex-wrap gap-2">
      {SUNS.map((value) => (
        <Chip key={value} label={`${value} W/m\u00b2`} on={sun === value} onPress={() => onSun(value)} />
      ))}
    </View>
    <View role="radiogroup" aria-label="Cells" className="flex-row flex-wrap gap-2">
      {CELLS.map((value) => (
        <Chip
          key={value}
          label={`cells ${value < 0 ? '\u2212' : ''}${Math.abs(value)} \u00b0C`}
          on={cell === value}
          onPress={() => onCell(value)}
        />
      ))}
    </View>
  </>
);

function Summary({
  answer: { best, maxima, unshaded_W, points },
  held_V,
  limit_W,
}: {
  answer: ShadeAnswer;
  /** Where a pwm controller holds the array. */
  held_V: number | null;
  limit_W: number | null;
}) {
  const held_A = held_V === null ? null : ampsAt(points, held_V);
  const lost = unshaded_W > 0 ? 100 * (1 - best.p / unshaded_W) : 0;
  return (
    <View>
      <T look="lead">
        {withUnit(best.p, 'W')} at {withUnit(best.v, 'V')}
      </T>
      <T look="fact">
        {lost > 0.5 ? `The shade takes ${figure(lost, 2)} % of ${withUnit(unshaded_W, 'W')}.` : 'No shade.'}
        {maxima.length > 1 ? ` ${maxima.length} maxima: an MPPT controller may settle on a lower one.` : ''}
      </T>
      {held_V !== null && held_A !== null ? (
        <T testID="held">
          {`A PWM controller holds it at the bank voltage, ${withUnit(held_V, 'V')}: ${withUnit(held_A, 'A')}, ${withUnit(held_A * held_V, 'W')}.`}
        </T>
      ) : null}
      {limit_W !== null && best.p > limit_W ? (
        <T testID="clips">{`The controller is at its output limit, ${withUnit(limit_W, 'W')}; the rest is lost.`}</T>
      ) : null}
    </View>
  );
}

function Wirings({ answer: { wirings } }: { answer: ShadeAnswer }) {
  const most = Math.max(...wirings.map(({ best_W }) => best_W));
  return (
    <View className="gap-2" testID="wirings">
      <T look="head">The same modules and shade, wired</T>
      {wirings.map(({ title, best_W, present }) => (
        <View key={title} className="gap-1">
          <View className="flex-row justify-between">
            <T className={present ? 'font-semi' : ''}>
              {title}
              {present ? ' (as it is)' : ''}
            </T>
            <T className="font-semi">{withUnit(best_W, 'W')}</T>
          </View>
          <View className="h-[9px] bg-well">
            <View
              className={`h-[9px] ${present ? 'bg-ink' : 'bg-second'}`}
              style={{ width: `${(100 * best_W) / Math.max(1, most)}%` }}
            />
          </View>
        </View>
      ))}
    </View>
  );
}
