import {
  CHEMISTRY,
  HORIZON_Y,
  partsListOf,
  payback_y,
  rebase,
  totalText,
  yearly,
  type Spending,
} from '@true-lantern/core';
import { View } from 'react-native';
import type { FieldSpec } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { rowOfPart, setFields, type OpenSite } from '../data/site';
import { openProposals } from '../data/work';
import { useShelf } from '../data/shelf';
import { FieldRow } from '../entry/FieldRow';
import { useEditor } from '../entry/useEditor';
import { Heading, T } from '../ui/text';
import { withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { MoneySteps } from './MoneySteps';
import { PlanPage } from './PlanPage';

const n = (path: string, label: string, unit: string, hint?: string): FieldSpec => ({
  path: `money.${path}`,
  label,
  unit,
  kind: 'number',
  ...(hint ? { hint } : {}),
});
const FIELDS: FieldSpec[] = [
  { path: 'money.currency', label: 'Currency', kind: 'text' },
  n('horizon_y', `Compare over (default ${HORIZON_Y})`, 'years'),
  n('generator_h_y', 'Generator running time', 'h a year'),
  n('fuel_L_h', 'Fuel use', 'L/h'),
  n('fuelPrice_L', 'Fuel price', ''),
  n('wear_h', 'Service and wear per hour', ''),
  n('bill_month', 'Electricity bill', ''),
];

type Money = Spending & { currency?: string | null; horizon_y?: number | null };

/** What the batteries of the shelf come to over the years, in one currency. */
function useLives(site: OpenSite, money: Money) {
  const { items } = useShelf();
  const horizon = money.horizon_y ?? HORIZON_Y;
  // Prices in two currencies are no comparison: the site's own, else that of the first battery with a price.
  const priced = items.filter(({ kind, price }) => kind === 'bank' && price);
  const currency = money.currency ?? priced[0]?.currency ?? null;
  const shelf = priced.filter((item) => (item.currency ?? null) === currency);
  const left = priced.length - shelf.length;
  const { data, error } = useAnswer<'lives'>({ ask: 'lives', model: site.model, shelf, horizon_y: horizon });
  return { horizon, currency, left, error, chemistries: data ?? null };
}
type Lives = ReturnType<typeof useLives>;

/** What a usable kWh costs over the years in each chemistry, and how soon a proposal earns itself back. */
export function MoneyScreen() {
  const site = useOpenSite();
  const row = rowOfPart(site, 'site') ?? site.rows.find(({ kind }) => kind === 'site');
  const money = (site.model.site.money ?? {}) as Money;
  const lives = useLives(site, money);
  const spent = yearly(money);
  const { open, editor } = useEditor({
    site,
    row: row ?? ({} as never),
    specs: FIELDS,
    onSave: (set, seen) => row && setFields(site, seen, set),
  });
  return (
    <PlanPage title="Money" over={editor}>
      <T look="lead" className="px-[18px] py-4">
        {leadOf(lives)}
      </T>
      <Heading level={2} look="station" className="px-[18px] pb-1">
        A bank for this use, including replacements
      </Heading>
      <Chemistries lives={lives} />
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
        Current costs
      </Heading>
      {row
        ? FIELDS.map((spec) => <FieldRow key={spec.path} row={row} spec={spec} onOpen={() => open(spec.path)} />)
        : null}
      <View className="flex-row justify-between px-[18px] py-3">
        <T look="head">A year</T>
        <T look="head" testID="spent">
          {spent.total > 0 ? withUnit(spent.total, money.currency ?? null, 5) : 'not known'}
        </T>
      </View>
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
        Payback time, if all of that is saved
      </Heading>
      <EarnedBack site={site} saved_y={spent.total} />
      <T look="fact" className="px-[18px] pt-2">
        Parts only, without labour. Parts without a price are not included.
      </T>
    </PlanPage>
  );
}

function leadOf({ error, chemistries, horizon, currency }: Lives): string {
  if (error) return error.message;
  if (!chemistries) return 'Working through the shelf ...';
  const [best] = chemistries;
  return best
    ? `Over ${horizon} years ${CHEMISTRY[best.chemistry].word} is cheapest: ${withUnit(best.life.perUsable_kWh, currency)} a usable kWh.`
    : 'No priced battery on the shelf fits this system, or its use is not recorded yet.';
}

/** Each chemistry with its best battery: price, life, sets, and what a kWh comes to. */
function Chemistries({ lives: { horizon, currency, left, chemistries: known } }: { lives: Lives }) {
  const chemistries = known ?? [];
  return (
    <>
      {chemistries.length > 1 ? (
        <MoneySteps
          all={chemistries.map(({ chemistry, life, price }) => ({
            id: chemistry,
            title: CHEMISTRY[chemistry].word,
            price,
            life_y: life.life_y,
          }))}
          horizon={horizon}
          currency={currency}
        />
      ) : null}
      {chemistries.map(({ chemistry, item, count, life, price }) => (
        <View
          key={chemistry}
          className="flex-row items-center gap-3 border-b border-rule px-[18px] py-3"
          testID={`life-${chemistry}`}
        >
          <View className="min-w-0 flex-1">
            <T look="head">{CHEMISTRY[chemistry].word}</T>
            <T look="fact">{`${count} \u00d7 ${item.label}, ${withUnit(price, currency, 5)}`}</T>
            <T look="fact">{`lasts ${withUnit(life.life_y, 'years', 2)}; ${life.sets === 1 ? 'one set' : `${life.sets} sets`} in ${horizon} years, ${withUnit(life.total, currency, 5)}`}</T>
          </View>
          <View className="items-end">
            <T look="figure">{withUnit(life.perUsable_kWh, currency)}</T>
            <T look="fact">a usable kWh</T>
            <T look="fact">{`${withUnit(life.perDelivered_kWh, currency, 2)} a kWh delivered`}</T>
          </View>
        </View>
      ))}
      <T look="fact" className="px-[18px] pt-2">
        Planning values: typical cycle and calendar life, half of the use through the bank, today&apos;s prices.
        {left > 0 ? ` ${left} batteries are priced in another currency and left out.` : ''}
      </T>
    </>
  );
}

/** Each proposal against what would be saved a year. */
function EarnedBack({ site, saved_y }: { site: OpenSite; saved_y: number }) {
  const { items } = useShelf();
  const proposals = openProposals(site).map((proposal) => {
    const { system } = rebase(site.model.system, proposal);
    const partsList = partsListOf(site.model.system, system, items);
    return {
      id: proposal.id,
      title: proposal.title,
      partsList,
      outlay: Object.values(partsList.totals).reduce((sum, each) => sum + each, 0),
    };
  });
  return (
    <>
      {proposals.length === 0 ? <T className="px-[18px] py-2 text-soft">No proposal to compare yet.</T> : null}
      {proposals.map(({ id, title, partsList, outlay }) => {
        const years = payback_y(outlay, saved_y);
        return (
          <View key={id} className="flex-row items-center gap-3 border-b border-rule px-[18px] py-3">
            <View className="min-w-0 flex-1">
              <T className="font-semi text-second">{title}</T>
              <T look="fact">{totalText(partsList)}</T>
            </View>
            <T look="head">{years === null || outlay === 0 ? 'unknown' : withUnit(years, 'years', 2)}</T>
          </View>
        );
      })}
    </>
  );
}
