import {
  layoutTitle,
  MOST_MODULES,
  poolOf,
  presentModules,
  withModuleType,
  type Layout,
  type StoredItem,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { ShelfPick } from '../entry/ShelfPick';
import { Button, Chip, Row } from '../kit/controls';
import { Mark, VERDICT_WORDS } from '../kit/mark';
import { Stepper } from '../kit/stepper';
import { Heading, T } from '../kit/text';
import { Working } from '../kit/working';
import { usePretty, withUnit } from '../kit/units';
import { useAnswer } from '../workers/engine';
import { nameIn, saveOn, useBase } from './base';
import { PlanPage } from './PlanPage';

/** Controllers offered as one more: beyond this the list is read by nobody. */
const MOST_OFFERED = 3;

/** "What if two more modules go on": every layout over the controllers that are there or one more, best first. */
export function AddModulesScreen() {
  const pretty = usePretty();
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
  const { model, changes, type } = useMemo(() => withModuleType(base.model, other), [base, other]);
  const pool = useMemo(() => {
    const standing = poolOf(model, Math.max(1, count));
    const added = type ?? present?.type;
    return added && present ? [...standing, ...Array.from({ length: more }, () => ({ type: added, light: 1 }))] : [];
  }, [model, count, type, present, more]);
  const controllers = useAnswer<'controllers'>({
    ask: 'controllers',
    model,
    shelf: oneMore ? items.filter(({ kind }) => kind === 'controllers') : [],
    most: MOST_OFFERED,
  });
  const offered = useMemo(() => controllers.data ?? [], [controllers.data]);
  const { data, error, isFetching, progress, stop } = useAnswer<'layouts'>({
    ask: 'layouts',
    model,
    modules: pool,
    offered,
  });
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
        {oneMore && controllers.data?.length === 0 ? (
          <T className="px-[18px]">No controller of the shelf stands this bank&apos;s volts.</T>
        ) : null}
        <Heading level={2} look="station" className="px-[18px]">
          Layouts, best first
        </Heading>
        {isFetching && !data ? (
          <Working what="Working through the layouts ..." progress={progress} onStop={stop} />
        ) : null}
        {error ? <T className="px-[18px]">{error.message}</T> : null}
        {data?.length === 0 ? (
          <T className="px-[18px]" testID="no-layout">
            None: every way to string these modules puts more volts into a controller than it stands. Another
            controller, or other modules.
          </T>
        ) : null}
        {data?.[0] && more > 0 && data[0].unused >= more ? (
          <T className="px-[18px] font-semi" testID="none-more">
            None more goes on without turning something over or making it worse. Those that take more stand below, with
            what they bring about.
          </T>
        ) : null}
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
                  {layout.onVolts ? (
                    <T look="fact">It would destroy the controller: it is shown to say why not.</T>
                  ) : mayWrite ? (
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

const layoutFacts = ({ watts, shadeLoss_pct, amps, cost, fuses, onVolts }: Layout, currency: string | null) =>
  [
    onVolts ? 'not to be built: more volts than the controller stands' : null,
    `${withUnit(watts, 'W')} arrive in full sun`,
    ...fuses.map(({ count, rating_A }) => `${count} string fuses of ${rating_A} A`),
    shadeLoss_pct >= 1 ? `${withUnit(shadeLoss_pct, '%', 2)} lost to shade and mismatch` : null,
    `${withUnit(amps, 'A')} in the cable`,
    cost ? withUnit(cost, currency) : null,
  ]
    .filter(Boolean)
    .join(' \u00b7 ');
