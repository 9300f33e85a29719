import {
  check,
  layoutTitle,
  MOST_MODULES,
  poolOf,
  presentModules,
  searchShelf,
  withSystem,
  type Change,
  type Layout,
  type Model,
  type ModuleType,
  type StoredItem,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { bodyOfItem, useShelf } from '../data/shelf';
import { ShelfPick } from '../entry/ShelfPick';
import { Button, Chip, Row } from '../kit/controls';
import { Mark, VERDICT_WORDS } from '../kit/mark';
import { Stepper } from '../kit/stepper';
import { Heading, T } from '../kit/text';
import { pretty, withUnit } from '../kit/units';
import { useAnswer } from '../workers/engine';
import { nameIn, saveOn, useBase, type Base } from './base';
import { PlanPage } from './PlanPage';

/** Controllers offered as one more: beyond this the list is read by nobody. */
const MOST_OFFERED = 3;

/** "What if two more modules go on": every layout over the controllers that are there or one more, best first. */
export function AddModulesScreen() {
  const site = useOpenSite();
  const base = useBase();
  const { items } = useShelf();
  const present = presentModules(base.model);
  const count = poolOf(base.model).length;
  const [more, setMore] = useState(2);
  const [other, setOther] = useState<StoredItem | null>(null);
  const [picking, setPicking] = useState(false);
  const [oneMore, setOneMore] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const mayWrite = useMayWrite();
  const { model, changes, type } = useMemo(() => withType(base, other), [base, other]);
  const pool = useMemo(() => {
    const standing = poolOf(model, Math.max(1, count));
    const added = type ?? present?.type;
    return added && present ? [...standing, ...Array.from({ length: more }, () => ({ type: added, light: 1 }))] : [];
  }, [model, count, type, present, more]);
  const offered = useMemo(() => (oneMore ? fitting(model, items) : []), [oneMore, model, items]);
  const { data, error, isFetching } = useAnswer<'layouts'>({ ask: 'layouts', model, modules: pool, offered });
  const save = (layout: Layout) =>
    saveOn(site, base, `${more} more ${more === 1 ? 'module' : 'modules'}: ${layoutTitle(model, layout)}`, [
      ...changes,
      ...layout.changes,
    ]);
  const shaded = pool.some(({ light }) => light < 1);
  return (
    <PlanPage title="Add modules" base={base}>
      <View className="gap-2">
        <View className="gap-3 px-[18px] py-4">
          <Stepper
            label="Modules more"
            value={more}
            min={0}
            max={Math.max(0, MOST_MODULES - count)}
            onChange={setMore}
          />
          <T look="fact">
            {`${count} now, ${count + more} then${other ? '' : ', of the same type'}.${shaded ? ' Under the shade that was noted.' : ' No shade is noted: see the curves of the array.'}`}
          </T>
          <View role="radiogroup" aria-label="Type of module" className="flex-row flex-wrap gap-2">
            <Chip
              label={present ? nameIn(base.model, present.type) : 'The same'}
              on={!other && !picking}
              onPress={() => {
                setOther(null);
                setPicking(false);
              }}
            />
            <Chip
              label={other ? other.label : 'Another type'}
              on={other !== null || picking}
              onPress={() => setPicking(true)}
            />
          </View>
          <View role="radiogroup" aria-label="Controllers" className="flex-row flex-wrap gap-2">
            <Chip label="These controllers" on={!oneMore} onPress={() => setOneMore(false)} />
            <Chip label="One more of the shelf" on={oneMore} onPress={() => setOneMore(true)} />
          </View>
        </View>
        {picking ? (
          <ShelfPick
            kind="moduleTypes"
            onPick={(item) => {
              setOther(item);
              setPicking(false);
            }}
          />
        ) : null}
        {oneMore && offered.length === 0 ? (
          <T className="px-[18px]">No controller of the shelf stands this bank&apos;s volts.</T>
        ) : null}
        <Heading level={2} look="station" className="px-[18px]">
          Layouts, best first
        </Heading>
        {isFetching && !data ? (
          <T role="status" className="px-[18px] py-3 text-soft">
            Working through the layouts ...
          </T>
        ) : null}
        {error ? <T className="px-[18px]">{error.message}</T> : null}
        {data?.map((layout) => {
          const title = layoutTitle(model, layout);
          return (
            <View key={title}>
              <Row
                aria-expanded={chosen === title}
                testID="layout"
                onPress={() => setChosen(chosen === title ? null : title)}
              >
                <Mark verdict={layout.verdict} />
                <View className="min-w-0 flex-1">
                  <T look="head">{title}</T>
                  <T look="fact" className="text-ink">
                    {pretty(layout.why)}
                  </T>
                  <T look="fact">{layoutFacts(layout, offered[0]?.currency ?? null)}</T>
                </View>
                <T look="head">{VERDICT_WORDS[layout.verdict]}</T>
              </Row>
              {chosen === title ? (
                <View className="bg-well px-[18px] py-3">
                  {mayWrite ? (
                    <Button label="Save as a proposal" kind="second" onPress={() => save(layout)} />
                  ) : (
                    <T look="fact">Readers cannot save proposals.</T>
                  )}
                </View>
              ) : null}
            </View>
          );
        })}
      </View>
    </PlanPage>
  );
}

const layoutFacts = ({ watts, shadeLoss_pct, amps, cost }: Layout, currency: string | null) =>
  [
    `${withUnit(watts, 'W')} in full sun`,
    shadeLoss_pct >= 1 ? `${withUnit(shadeLoss_pct, '%', 2)} lost to shade and mismatch` : null,
    `${withUnit(amps, 'A')} in the cable`,
    cost ? withUnit(cost, currency) : null,
  ]
    .filter(Boolean)
    .join(' \u00b7 ');

const NEW_TYPE = 'added-module';

/** The base with another type of module known to it, and the change that makes it so. */
function withType(base: Base, item: StoredItem | null): { model: Model; changes: Change[]; type: string | null } {
  if (!item) return { model: base.model, changes: [], type: null };
  const { system } = base.model;
  const known = (system.moduleTypes ?? []).find(({ label }) => label === item.label);
  if (known) return { model: base.model, changes: [], type: known.id };
  const value = { ...bodyOfItem(item), id: NEW_TYPE } as unknown as ModuleType;
  return {
    model: withSystem(base.model, { ...system, moduleTypes: [...(system.moduleTypes ?? []), value] }),
    changes: [{ op: 'add', at: 'moduleTypes', value }],
    type: NEW_TYPE,
  };
}

/** The cheapest controllers of the shelf that stand the bank's volts. */
function fitting(model: Model, items: readonly StoredItem[]): StoredItem[] {
  const { system } = model;
  const stands = ({ body }: StoredItem) => {
    const controllers = [{ ...body, id: 'tried' }] as never;
    const found = check(withSystem(model, { ...system, controllers, arrays: [], runs: [] })).find(
      ({ rule }) => rule === 'controller.voltage',
    );
    return found ? found.verdict === 'holds' || found.verdict === 'tight' : false;
  };
  return searchShelf(
    items.filter((item) => item.kind === 'controllers' && item.body.type === 'mppt'),
    '',
  )
    .sort((a, b) => (a.price ?? Infinity) - (b.price ?? Infinity))
    .filter(stands)
    .slice(0, MOST_OFFERED);
}
