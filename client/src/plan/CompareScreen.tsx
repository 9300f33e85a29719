import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { CONSEQUENCE_ORDER, kitOf, type Comparison, type Kit, type Model, type Standing } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import type { OpenSite } from '../data/site';
import { useShelf } from '../data/shelf';
import { Chip, HeavyRule } from '../kit/controls';
import { T } from '../kit/text';
import { withUnit } from '../kit/units';
import { useWide } from '../kit/wide';
import { useAnswers } from '../workers/engine';
import { nameIn } from './base';
import { totalText } from './KitList';
import { PlanHeader } from './PlanHeader';
import { proposedOf } from './proposed';

/** One system of the comparison: as found, or with a proposal. */
interface Column {
  id: string;
  title: string;
  model: Model;
  comparison: Comparison | null;
  kit: Kit | null;
  /** Changes of the proposal that no longer apply. */
  lost: number;
}

const FOUND = 'as-found';

/** Side by side with the system as found and with each other; a column is dragged to stand beside another. */
export function CompareScreen() {
  const site = useOpenSite();
  const { items } = useShelf();
  const columns = useMemo(() => columnsOf(site, items), [site, items]);
  const [order, setOrder] = useState<string[]>([]);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const sorted = [...columns].sort((a, b) => place(order, a.id) - place(order, b.id));
  const shown = sorted.filter(({ id }) => !hidden.has(id));
  const answers = useAnswers<'standing'>(shown.map(({ model }) => ({ ask: 'standing', model })));
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    // A short press first, or the table could not be scrolled by thumb.
    useSensor(TouchSensor, { activationConstraint: { delay: 150, tolerance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const ids = sorted.map(({ id }) => id);
    setOrder(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
  };
  const toggle = (id: string) => {
    const next = new Set(hidden);
    if (!next.delete(id)) next.add(id);
    setHidden(next);
  };
  return (
    <View className="flex-1">
      <PlanHeader title="Side by side" />
      <View className="flex-row flex-wrap gap-2 px-[18px] py-3">
        {columns.map(({ id, title }) => (
          <Chip
            key={id}
            many
            label={title.length > 30 ? `${title.slice(0, 29)}\u2026` : title}
            on={!hidden.has(id)}
            onPress={() => toggle(id)}
          />
        ))}
      </View>
      <HeavyRule />
      <ScrollView>
        <ScrollView horizontal contentContainerClassName="pb-10">
          <View testID="compare">
            <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={moved}>
              <SortableContext items={shown.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
                <View className="flex-row items-stretch border-b-2 border-ink">
                  <Cell head>
                    <T look="fact">drag a heading to bring two together</T>
                  </Cell>
                  {shown.map(({ id, title }) => (
                    <ColumnHead key={id} id={id} title={title} second={id !== FOUND} />
                  ))}
                </View>
              </SortableContext>
            </DndContext>
            {ROWS.map(({ label, value }) => (
              <View key={label} className="flex-row border-b border-rule">
                <Cell head>
                  <T look="fact" className="text-ink">
                    {label}
                  </T>
                </Cell>
                {shown.map((column, i) => (
                  <Cell key={column.id}>
                    <T>{value(column, answers[i]?.data ?? null)}</T>
                  </Cell>
                ))}
              </View>
            ))}
            <View className="flex-row">
              <Cell head>{null}</Cell>
              {shown.map(({ id }) => (
                <Cell key={id}>
                  {id === FOUND ? null : (
                    <T
                      role="link"
                      className="py-3 font-semi text-second underline"
                      onPress={() => router.navigate(`/site/${site.id}/plan/${encodeURIComponent(id)}`)}
                    >
                      open
                    </T>
                  )}
                </Cell>
              ))}
            </View>
          </View>
        </ScrollView>
      </ScrollView>
    </View>
  );
}

const place = (order: readonly string[], id: string) => {
  const at = order.indexOf(id);
  return at < 0 ? order.length : at;
};

/** Two columns beside the names on a phone; wider where there is room. */
const useColumnWidth = () => (useWide() ? 'w-[196px]' : 'w-[148px]');

function Cell({ head = false, children }: { head?: boolean; children: ReactNode }) {
  const width = useColumnWidth();
  return (
    <View className={`justify-center py-2 ${head ? 'w-[94px] px-2' : `${width} border-l border-rule px-3`}`}>
      {children}
    </View>
  );
}

function ColumnHead({ id, title, second }: { id: string; title: string; second: boolean }) {
  const width = useColumnWidth();
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <div
      ref={setNodeRef}
      style={{
        transform: CSS.Translate.toString(transform),
        transition,
        opacity: isDragging ? 0.6 : 1,
        cursor: 'grab',
        display: 'flex',
        touchAction: 'manipulation',
        zIndex: isDragging ? 1 : 0,
      }}
      data-testid={`column-${id}`}
      {...attributes}
      {...listeners}
    >
      <View className={`min-h-[64px] ${width} justify-center border-l border-rule bg-paper px-3 py-2`}>
        <T look="head" className={second ? 'text-second' : ''}>
          {`\u2261 ${title}`}
        </T>
      </View>
    </div>
  );
}

function columnsOf(site: OpenSite, shelf: ReturnType<typeof useShelf>['items']): Column[] {
  const found: Column = { id: FOUND, title: 'As found', model: site.model, comparison: null, kit: null, lost: 0 };
  return [
    found,
    ...(site.file.proposals ?? []).map((proposal): Column => {
      // What no longer applies is left out of the figures and said so.
      const { model, result, lost } = proposedOf(site, proposal);
      const kit = kitOf(site.model.system, model.system, shelf);
      return { id: proposal.id, title: proposal.title, model, comparison: result, kit, lost };
    }),
  ];
}

type Value = (column: Column, standing: Standing | null) => string;
const AWAITED = '\u2026';
const known = (value: number | null | undefined, say: (value: number) => string) =>
  value === null || value === undefined ? 'not known' : say(value);

const ROWS: { label: string; value: Value }[] = [
  {
    label: 'Over',
    value: (_, standing) => {
      if (!standing) return AWAITED;
      const parts = CONSEQUENCE_ORDER.filter((name) => standing.over[name] > 0).map(
        (name) => `${standing.over[name]} ${name}`,
      );
      return parts.join(', ') || 'nothing';
    },
  },
  { label: 'Cures', value: ({ comparison }) => (comparison ? String(comparison.cured.length) : '\u2013') },
  { label: 'Makes worse', value: ({ comparison }) => (comparison ? String(comparison.worse.length) : '\u2013') },
  { label: 'Breaks', value: ({ comparison }) => (comparison ? String(comparison.broken.length) : '\u2013') },
  { label: 'Cannot be judged', value: (_, standing) => (standing ? String(standing.unknown) : AWAITED) },
  {
    label: 'Next watts',
    value: ({ model }, standing) =>
      !standing
        ? AWAITED
        : !standing.load
          ? 'not known'
          : standing.load.extra_W === 0
            ? `none: ${nameIn(model, standing.load.subject)} is over`
            : `${withUnit(standing.load.extra_W, 'W')}, then ${nameIn(model, standing.load.subject)}`,
  },
  {
    label: 'More energy a day',
    value: (_, standing) => (standing ? known(standing.energy.extra_Wh_d, (wh) => withUnit(wh, 'Wh')) : AWAITED),
  },
  {
    label: 'Usable in the bank',
    value: (_, standing) => (standing ? known(standing.usable_Wh, (wh) => withUnit(wh / 1000, 'kWh')) : AWAITED),
  },
  {
    label: 'Without sun',
    value: (_, standing) => (standing ? known(standing.autonomy_d, (days) => withUnit(days, 'days', 2)) : AWAITED),
  },
  {
    label: 'Worst month brings',
    value: (_, standing) =>
      standing ? known(standing.worstMonth_pct, (share) => withUnit(share, '% of need')) : AWAITED,
  },
  {
    label: 'Weight of the bank',
    value: (_, standing) => (standing ? known(standing.mass_kg, (kg) => withUnit(kg, 'kg')) : AWAITED),
  },
  { label: 'To buy', value: ({ kit }) => (kit ? totalText(kit) : '\u2013') },
  { label: 'Parts kept', value: ({ kit }) => (kit ? `${kit.kept} of ${kit.outOf}` : 'all') },
  {
    label: 'Still applies',
    value: ({ lost, comparison }) =>
      !comparison ? '\u2013' : lost === 0 ? 'all of it' : `${lost} of its changes do not`,
  },
];
