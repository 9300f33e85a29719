import {
  nameIn,
  layoutTitle,
  MOST_MODULES,
  poolOf,
  presentModules,
  roofRefusal,
  roofSpare,
  withModuleType,
  type Layout,
  type StoredItem,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { ShelfPick } from '../entry/ShelfPick';
import { Button, Chip, Row } from '../ui/controls';
import { Mark, VERDICT_WORDS } from '../ui/mark';
import { Stepper } from '../ui/stepper';
import { Heading, T } from '../ui/text';
import { Working } from '../ui/working';
import { usePretty, withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { saveOn, useBase, type Base } from './base';
import { PlanPage } from './PlanPage';
import { WORDS } from '../ui/words';

/** Controllers offered as one more: beyond this the list is read by nobody. */
const MOST_OFFERED = 3;

/** The request: how many modules, of which type, on which controllers. */
interface Wanted {
  more: number;
  other: StoredItem | null;
  picking: boolean;
  oneMore: boolean;
  /** A larger controller in place of this one as well. */
  larger: string | null;
}

/** Every layout of the modules that are there and those that are wanted, worked out beside the screen. */
function useLayouts(base: Base, { more, other, oneMore, larger }: Wanted) {
  const { items } = useShelf();
  const present = presentModules(base.model);
  const count = poolOf(base.model).length;
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
  const room = useAnswer<'room'>({ ask: 'room', model, module: type ?? present?.type ?? '' });
  const { data, error, isFetching, progress, stop } = useAnswer<'layouts'>({
    ask: 'layouts',
    model,
    modules: pool,
    offered,
    larger,
  });
  const refusal = roofRefusal(room.data ?? null, more);
  const spare = roofSpare(room.data ?? null);
  return {
    model,
    changes,
    pool,
    count,
    present,
    controllers,
    offered,
    refusal,
    spare,
    data,
    error,
    isFetching,
    progress,
    stop,
  };
}

/** "What if two more modules go on": every layout over the controllers that are there or one more, best first. */
export function AddModulesScreen() {
  const site = useOpenSite();
  const base = useBase();
  const [wanted, setWanted] = useState<Wanted>({ more: 2, other: null, picking: false, oneMore: false, larger: null });
  const [chosen, setChosen] = useState<string | null>(null);
  const set = (change: Partial<Wanted>) => setWanted((before) => ({ ...before, ...change }));
  const layouts = useLayouts(base, wanted);
  const { model, data } = layouts;
  const { more, picking, oneMore } = wanted;
  const save = (layout: Layout) =>
    saveOn(site, base, `${more} more ${more === 1 ? 'module' : 'modules'}: ${layoutTitle(model, layout)}`, [
      ...layouts.changes,
      ...layout.changes,
    ]);
  return (
    <PlanPage title="Add modules" base={base}>
      <View className="gap-2">
        <WantedEntry base={base} wanted={wanted} layouts={layouts} onChange={set} />
        {picking ? <ShelfPick kind="moduleTypes" onPick={(other) => set({ other, picking: false })} /> : null}
        {oneMore && layouts.controllers.data?.length === 0 ? (
          <T className="px-[18px]">No controller on the shelf is rated for this bank voltage.</T>
        ) : null}
        {layouts.refusal === null && layouts.spare !== null && layouts.spare > more ? (
          <T look="fact" className="px-[18px]" testID="roof-spare">
            {`The measured roof has room for ${layouts.spare} more of this size.`}
          </T>
        ) : null}
        {layouts.refusal ? (
          <View className="mx-[18px] gap-2 border-2 border-second px-4 py-3" role="alert" testID="roof-refuses">
            <T look="head" className="text-second">
              {layouts.refusal.says}
            </T>
            {layouts.spare ? (
              <Button
                label={`Plan the ${layouts.spare} that ${layouts.spare === 1 ? 'fits' : 'fit'}`}
                kind="main"
                onPress={() => set({ more: layouts.spare ?? more })}
              />
            ) : (
              <T>No more of this size fit. Try a smaller type, or clear something from the roof.</T>
            )}
            <Button label="Show the roof" onPress={() => router.navigate(`/site/${site.id}/roof`)} />
          </View>
        ) : null}
        <Heading level={2} look="station" className="px-[18px]">
          Layouts, best first
        </Heading>
        <Standing layouts={layouts} more={more} />
        {data?.map((layout) => {
          const title = layoutTitle(model, layout);
          return (
            <LayoutRow
              key={title}
              title={title}
              layout={layout}
              currency={layouts.offered[0]?.currency ?? null}
              open={chosen === title}
              onOpen={() => setChosen(chosen === title ? null : title)}
              onSave={() => save(layout)}
              refused={layouts.refusal?.certain ? layouts.refusal.says : null}
            />
          );
        })}
      </View>
    </PlanPage>
  );
}

type Layouts = ReturnType<typeof useLayouts>;

interface WantedEntryProps {
  base: Base;
  wanted: Wanted;
  layouts: Layouts;
  onChange(change: Partial<Wanted>): void;
}

function WantedEntry({ base, wanted, layouts, onChange }: WantedEntryProps) {
  const { more, other, picking, oneMore, larger } = wanted;
  const { count, present, pool } = layouts;
  const shaded = pool.some(({ light }) => light < 1);
  return (
    <View className="gap-3 px-[18px] py-4">
      <Stepper
        label="More modules"
        value={more}
        min={0}
        max={Math.max(0, MOST_MODULES - count)}
        onChange={(next) => onChange({ more: next })}
      />
      <T look="fact">
        {`${count} now, ${count + more} then${other ? '' : ', of the same type'}.${shaded ? ' With the recorded shade.' : " No shade is recorded: see the array's curves."}`}
      </T>
      <View role="radiogroup" aria-label="Type of module" className="flex-row flex-wrap gap-2">
        <Chip
          label={present ? nameIn(base.model, present.type) : 'The same'}
          on={!other && !picking}
          onPress={() => onChange({ other: null, picking: false })}
        />
        <Chip
          label={other ? other.label : 'Another type'}
          on={other !== null || picking}
          onPress={() => onChange({ picking: true })}
        />
      </View>
      <View role="radiogroup" aria-label="Controllers" className="flex-row flex-wrap gap-2">
        <Chip
          label="These controllers"
          on={!oneMore && larger === null}
          onPress={() => onChange({ oneMore: false, larger: null })}
        />
        <Chip label="One more from the shelf" on={oneMore} onPress={() => onChange({ oneMore: true, larger: null })} />
        {(base.model.system.controllers ?? []).map(({ id }, _, all) => (
          <Chip
            key={id}
            label={all.length > 1 ? `A larger controller for ${nameIn(base.model, id)}` : 'A larger one'}
            on={larger === id}
            onPress={() => onChange({ oneMore: false, larger: id })}
          />
        ))}
      </View>
    </View>
  );
}

/** How far it is, or why there is nothing to build. */
function Standing({ layouts, more }: { layouts: Layouts; more: number }) {
  const { data, error, isFetching, progress, stop } = layouts;
  return (
    <>
      {isFetching && !data ? (
        <Working what="Working through the layouts ..." progress={progress} onStop={stop} />
      ) : null}
      {error ? <T className="px-[18px]">{error.message}</T> : null}
      {data?.length === 0 ? (
        <T className="px-[18px]" testID="no-layout">
          None: however these modules are connected, the voltage exceeds the controller&apos;s rating. Choose another
          controller or other modules.
        </T>
      ) : null}
      {data?.[0] && more > 0 && data[0].unused >= more ? (
        <T className="px-[18px] font-semi" testID="none-more">
          No layout with more modules keeps everything within its limits. Larger ones are listed below with what they
          cause.
        </T>
      ) : null}
    </>
  );
}

interface LayoutRowProps {
  title: string;
  layout: Layout;
  currency: string | null;
  open: boolean;
  onOpen(): void;
  onSave(): void;
  /** Why it cannot be built on the roof that was measured; null: nothing is known against it. */
  refused: string | null;
}

function LayoutRow({ title, layout, currency, open, onOpen, onSave, refused }: LayoutRowProps) {
  const pretty = usePretty();
  const mayWrite = useMayWrite();
  return (
    <View>
      <Row aria-expanded={open} testID="layout" onPress={onOpen}>
        <Mark verdict={layout.verdict} />
        <View className="min-w-0 flex-1">
          <T look="head">{title}</T>
          <T look="fact" className="text-ink">
            {pretty(layout.why)}
          </T>
          <T look="fact">{layoutFacts(layout, currency)}</T>
        </View>
        <T look="head">{VERDICT_WORDS[layout.verdict]}</T>
      </Row>
      {open ? (
        <View className="bg-well px-[18px] py-3">
          {layout.onVolts ? (
            <T look="fact">This would destroy the controller. It is shown only to say why.</T>
          ) : refused ? (
            <T look="fact">{`${refused} Take fewer.`}</T>
          ) : mayWrite ? (
            <Button label={WORDS.saveAsProposal} kind="second" onPress={onSave} />
          ) : (
            <T look="fact">You can view this, not save a proposal.</T>
          )}
        </View>
      ) : null}
    </View>
  );
}

const layoutFacts = ({ watts, shadeLoss_pct, amps, cost, fuses, onVolts }: Layout, currency: string | null) =>
  [
    onVolts ? "do not build: voltage above the controller's rating" : null,
    `${withUnit(watts, 'W')} in full sun`,
    ...fuses.map(({ count, rating_A }) => `${count} string fuses of ${rating_A} A`),
    shadeLoss_pct >= 1 ? `${withUnit(shadeLoss_pct, '%', 2)} lost to shade and mismatch` : null,
    `${withUnit(amps, 'A')} in the cable`,
    cost ? withUnit(cost, currency) : null,
  ]
    .filter(Boolean)
    .join(' \u00b7 ');
