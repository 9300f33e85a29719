import {
  nameIn,
  afterwards,
  applyChanges,
  canConvert,
  CONVERSION,
  keyOf,
  optionOfCount,
  type Conversion,
  type ConversionOption,
  type Model,
  type StoredItem,
  settingName,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { pathName } from '../data/reading';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { Button, Row } from '../ui/controls';
import { Mark, Marked, VERDICT_WORDS } from '../ui/mark';
import { Stepper } from '../ui/stepper';
import { Working } from '../ui/working';
import { BayDrawing } from '../ui/bay-drawing';
import { Heading, T } from '../ui/text';
import { useUnits, type Units } from '../data/units';
import { inUnits, usePretty, withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { saveOn, useBase, type Base } from './base';
import { PartVerdicts } from './PartVerdicts';
import { PlanHeader } from './PlanHeader';
import { PlanPage } from './PlanPage';
import { WORDS } from '../ui/words';

/** From lead to lithium: what must be matched, the options of the shelf, and what becomes of every other part. */
export function ConvertScreen() {
  const pretty = usePretty();
  const units = useUnits();
  const base = useBase();
  const { items } = useShelf();
  const packs = useMemo(
    () => items.filter(({ kind, body }) => kind === 'bank' && body.chemistry === CONVERSION),
    [items],
  );
  const { data, error } = useAnswer<'convert'>({ ask: 'convert', model: base.model, packs });
  const [chosen, setChosen] = useState<number | null>(null);
  if (!canConvert(base.model))
    return (
      <View className="flex-1">
        <PlanHeader title="To lithium" />
        <T className="p-[18px]">There is no lead bank here to convert.</T>
      </View>
    );
  return (
    <PlanPage title="To lithium" base={base}>
      <View className="gap-2">
        {error ? <T className="p-[18px]">{error.message}</T> : null}
        {!data && !error ? (
          <T role="status" className="p-[18px] text-soft">
            Working through the shelf ...
          </T>
        ) : null}
        {data ? <Sizes data={data} /> : null}
        {data?.options.map((option, i) => (
          <View key={`${option.label} ${option.parallel} ${option.smaller}`}>
            <Row testID="option" aria-expanded={chosen === i} onPress={() => setChosen(chosen === i ? null : i)}>
              <Mark verdict={option.verdict} />
              <View className="min-w-0 flex-1">
                <T look="head">
                  {`${option.series * option.parallel} \u00d7 ${option.label} (${option.series} in series, ${option.parallel} ${option.parallel === 1 ? 'string' : 'strings'})`}
                </T>
                <T look="fact">{factsOf(option, units)}</T>
                {option.limits[0] ? (
                  <T look="fact" className="text-ink">
                    {pretty(option.limits[0])}
                  </T>
                ) : null}
              </View>
              <T look="head">{VERDICT_WORDS[option.verdict]}</T>
            </Row>
            {chosen === i ? (
              <Opened
                base={base}
                found={option}
                pack={packs.find(({ label }) => label === option.label)}
                proposed_Wh={option.smaller ? (data.wanted_Wh ?? 0) : (data.proposed_Wh ?? 0)}
              />
            ) : null}
          </View>
        ))}
        {data && data.missing.length === 0 && data.options.length === 0 ? (
          <T className="px-[18px]">No pack on the shelf reaches this voltage. Add some to the shelf.</T>
        ) : null}
      </View>
    </PlanPage>
  );
}

const factsOf = ({ usable_Wh, mass_kg, spare, price, currency, wholeLife }: ConversionOption, units: Units) =>
  [
    `${withUnit(usable_Wh / 1000, 'kWh')} usable`,
    mass_kg === null ? null : inUnits(mass_kg, 'kg', units),
    spare === null ? null : spare < 0 ? 'does not fit' : `room for ${spare} more`,
    price === null ? null : withUnit(price, currency),
    wholeLife === null
      ? null
      : `${withUnit(wholeLife.perUsable_kWh, currency)} a usable kWh over its whole life${wholeLife.sets > 1 ? `; ${withUnit(wholeLife.total, currency)} in all for ${wholeLife.sets} sets` : ''}`,
  ]
    .filter(Boolean)
    .join(' \u00b7 ');

function Sizes({ data }: { data: Conversion }) {
  const site = useOpenSite();
  if (data.missing.length > 0)
    return (
      <View className="gap-2 p-[18px]">
        <T look="head">Not possible yet. To match the present bank, record:</T>
        {data.missing.map((path) => (
          <T key={path}>{pathName(site, path)}</T>
        ))}
      </View>
    );
  const line = (label: string, value: number | null, strong = false) => (
    <View className="flex-row justify-between border-b border-rule px-[18px] py-2">
      <T className={strong ? 'font-semi' : ''}>{label}</T>
      <T className="font-semi">{value === null ? 'not known' : withUnit(value / 1000, 'kWh')}</T>
    </View>
  );
  return (
    <View testID="sizes">
      {line('Usable energy of the bank when new', data.asNew_Wh)}
      {line('Usable energy today', data.needed_Wh)}
      {line('Daily use times the days of autonomy', data.wanted_Wh)}
      {line('The new bank is sized for', data.proposed_Wh, true)}
      {data.assumed.some((path) => path.endsWith('idle_W')) ? (
        <T look="fact" className="px-[18px] py-2 text-ink">
          {`Not recorded; assumed as 1 % of its power plus 5 W: ${data.assumed
            .filter((path) => path.endsWith('idle_W'))
            .map((path) => pathName(site, path))
            .join(', ')}.`}
        </T>
      ) : null}
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-5">
        Options, best first
      </Heading>
    </View>
  );
}

const bankWith = (model: Model, { changes }: ConversionOption) => applyChanges(model.system, { changes }).bank;

/** What limits the option, every other part judged with it in place, and the settings sheet in volts at this bank. */
function Opened({
  base,
  found,
  pack,
  proposed_Wh,
}: {
  base: Base;
  found: ConversionOption;
  pack: StoredItem | undefined;
  proposed_Wh: number;
}) {
  const pretty = usePretty();
  const units = useUnits();
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { items } = useShelf();
  const [count, setCount] = useState(found.parallel);
  const [skip, setSkip] = useState<string[]>([]);
  const option = useMemo(
    () => (count === found.parallel || !pack ? found : (optionOfCount(base.model, pack, count) ?? found)),
    [base, found, pack, count],
  );
  const { parts, settings, gate } = useMemo(
    () => afterwards(base.model, option, proposed_Wh),
    [base, option, proposed_Wh],
  );
  const answer = useAnswer<'whole'>({ ask: 'whole', model: base.model, option, shelf: items, skip });
  const whole = answer.data;
  const toggle = (id: string) => setSkip(skip.includes(id) ? skip.filter((one) => one !== id) : [...skip, id]);
  const save = () =>
    saveOn(
      site,
      base,
      `To lithium: ${option.series * option.parallel} x ${option.label}`,
      whole?.changes ?? option.changes,
    );
  const bank = bankWith(base.model, option);
  return (
    <View className="gap-4 bg-well px-[18px] py-4" testID="conversion">
      <Gate lines={gate} />
      <Stepper label="Packs in parallel" value={count} min={1} max={Math.max(8, found.parallel)} onChange={setCount} />
      {count === found.parallel
        ? null
        : [factsOf(option, units), ...option.limits].map((text) => (
            <T key={text} look="fact" className="text-ink">
              {pretty(text)}
            </T>
          ))}
      {bank ? <BayDrawing system={base.model.system} bank={bank} /> : null}
      <WithIt answer={answer} onToggle={toggle} />
      <PartVerdicts parts={whole?.parts ?? parts} nameOf={(id) => nameIn(base.model, id)} />
      <SettingsSheet model={base.model} settings={settings} />
      {mayWrite && whole ? <Button label={WORDS.saveAsProposal} kind="second" onPress={save} /> : null}
    </View>
  );
}

type Afterwards = ReturnType<typeof afterwards>;

/** What must be answered before anything is ordered. */
function Gate({ lines }: { lines: Afterwards['gate'] }) {
  const pretty = usePretty();
  return (
    <View testID="gate">
      <Heading level={3} look="head">
        Before ordering
      </Heading>
      {lines.map(({ id, label, verdict, why }) => (
        <View key={id} className="flex-row items-center gap-3 border-b border-rule py-2">
          <Mark verdict={verdict} size={22} />
          <View className="min-w-0 flex-1">
            <T>{label}</T>
            <T look="fact">{pretty(why)}</T>
          </View>
        </View>
      ))}
    </View>
  );
}

interface WithItProps {
  answer: ReturnType<typeof useAnswer<'whole'>>;
  onToggle(id: string): void;
}

/** Everything else that the new bank asks for, each of it to be left out, and what no part cures. */
function WithIt({ answer: { data: whole, error, progress, stop }, onToggle }: WithItProps) {
  const pretty = usePretty();
  return (
    <View testID="steps">
      <Heading level={3} look="head" className="text-second">
        Also needed
      </Heading>
      <T look="fact">Each can be left out, here or in the saved proposal.</T>
      {error ? <T>{error.message}</T> : null}
      {!whole && !error ? (
        <Working what="Searching the shelf for every part ..." progress={progress} onStop={stop} />
      ) : null}
      {whole?.steps.map(({ id, title, why, taken }) => (
        <Row key={id} role="checkbox" aria-checked={taken} onPress={() => onToggle(id)} className="px-0">
          <View className="h-6 w-6 items-center justify-center border-2 border-ink">
            {taken ? <View className="h-3 w-3 bg-second" /> : null}
          </View>
          <View className="min-w-0 flex-1">
            <T className={taken ? '' : 'line-through'}>{pretty(title)}</T>
            <T look="fact">{pretty(why)}</T>
          </View>
        </Row>
      ))}
      {whole && whole.left.length > 0 ? (
        <>
          <T look="head" className="pt-3">
            No part fixes
          </T>
          {whole.left.map(({ finding, text }) => (
            <Marked key={keyOf(finding)} verdict="over">
              {pretty(text)}
            </Marked>
          ))}
        </>
      ) : null}
    </View>
  );
}

/** Every setting that changes, in volts at this bank. */
function SettingsSheet({ model, settings }: { model: Model; settings: Afterwards['settings'] }) {
  const pretty = usePretty();
  const units = useUnits();
  if (settings.length === 0) return null;
  return (
    <View testID="settings-sheet">
      <Heading level={3} look="head">
        Settings for this bank
      </Heading>
      {settings.map(({ id, setting, before, after, unit, tolerance, why }) => (
        <View key={`${id} ${setting}`} className="flex-row gap-3 border-b border-rule py-2">
          <View className="min-w-0 flex-1">
            <T>
              {nameIn(model, id.replace(/\.charger$/, ''))}: {settingName(setting)}
            </T>
            <T look="fact">{pretty(why)}</T>
          </View>
          <View className="items-end">
            <T className="font-semi">{`${inUnits(after, unit, units, 4)}${tolerance > 0 ? ` \u00b1 ${withUnit(tolerance, null)}` : ''}`}</T>
            <T look="fact">{before === null ? 'not recorded before' : `was ${inUnits(before, unit, units, 4)}`}</T>
          </View>
        </View>
      ))}
      <T look="fact" className="pt-2">
        {'The maker\u2019s manual overrides each of these.'}
      </T>
    </View>
  );
}
