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
import {
  barsOf,
  COMPARE_ROWS,
  partsListOf,
  type CompareBar,
  type CompareColumn as Column,
  type CompareRow,
  type CompareWorked as Worked,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import type { OpenSite } from '../data/site';
import { openProposals } from '../data/work';
import { useShelf } from '../data/shelf';
import { Chip, HeavyRule } from '../ui/controls';
import { T } from '../ui/text';
import { useWide } from '../ui/wide';
import { useAnswers } from '../workers/engine';
import { useGround } from '../ui/ground';
import { PlanHeader } from './PlanHeader';
import { proposedOf } from './proposed';

const FOUND = 'as-found';

/** The columns in the order into which they were dragged, and those that are shown. */
function useColumns(site: OpenSite) {
  const { items } = useShelf();
  const columns = useMemo(() => columnsOf(site, items), [site, items]);
  const [order, setOrder] = useState<string[]>([]);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const sorted = [...columns].sort((a, b) => place(order, a.id) - place(order, b.id));
  const shown = sorted.filter(({ id }) => !hidden.has(id));
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
  return { columns, shown, hidden, moved, toggle };
}

/** What each column comes to, as far as it has come. */
function useWorked(shown: readonly Column[]): Worked[] {
  const figures = useAnswers<'figures'>(shown.map(({ model }) => ({ ask: 'figures', model })));
  const weather = { kind: 'seeded' as const, seed: 1 };
  const years = useAnswers<'year'>(shown.map(({ model }) => ({ ask: 'year', model, weather, count: YEARS })));
  return shown.map((_, i): Worked => ({
    figures: figures[i]?.data ?? null,
    year: years[i]?.data ?? (years[i]?.error ? 'unknown' : null),
  }));
}

/** Compare with the system as found and with each other; a column is dragged to stand beside another. */
export function CompareScreen() {
  const site = useOpenSite();
  const { columns, shown, hidden, moved, toggle } = useColumns(site);
  const worked = useWorked(shown);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    // A short press first, or the table could not be scrolled by thumb.
    useSensor(TouchSensor, { activationConstraint: { delay: 150, tolerance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <View className="flex-1">
      <PlanHeader title="Compare" />
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
                    <T look="fact">drag a heading to place two columns together</T>
                  </Cell>
                  {shown.map(({ id, title }) => (
                    <ColumnHead key={id} id={id} title={title} second={id !== FOUND} />
                  ))}
                </View>
              </SortableContext>
            </DndContext>
            {COMPARE_ROWS.map((row) => (
              <RowLine key={row.label} row={row} columns={shown} worked={worked} />
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

/** One figure of all columns: its words, and where they can be compared a bar each on one scale. */
function RowLine({
  row: { label, value, figure },
  columns,
  worked,
}: {
  row: CompareRow;
  columns: readonly Column[];
  worked: readonly Worked[];
}) {
  const figures = worked.map((one) => figure?.(one) ?? null);
  const found = figures[columns.findIndex(({ id }) => id === FOUND)] ?? null;
  const bars = barsOf(figures, found);
  return (
    <View className="flex-row border-b border-rule">
      <Cell head>
        <T look="fact" className="text-ink">
          {label}
        </T>
      </Cell>
      {columns.map((column, i) => {
        const now = worked[i];
        const bar = bars[i];
        return (
          <Cell key={column.id}>
            <T>{now ? value(column, now) : ''}</T>
            {bar ? <BarDrawing bar={bar} second={column.id !== FOUND} /> : null}
          </Cell>
        );
      })}
    </View>
  );
}

const BAR_PX = 120;

/** As wide as its share of the widest; the stroke is what was found. */
function BarDrawing({ bar: { share, found }, second }: { bar: CompareBar; second: boolean }) {
  const { colours } = useGround();
  return (
    <View style={{ width: BAR_PX, height: 12, marginTop: 3, backgroundColor: colours.well }} aria-hidden>
      <View style={{ width: BAR_PX * share, height: 12, backgroundColor: second ? colours.second : colours.ink }} />
      {found === null ? null : (
        <View
          style={{
            position: 'absolute',
            left: Math.min(BAR_PX - 3, BAR_PX * found),
            top: -3,
            width: 3,
            height: 18,
            backgroundColor: colours.lamp,
          }}
        />
      )}
    </View>
  );
}

/** Weathers that each column is looked at over. */
const YEARS = 50;

function columnsOf(site: OpenSite, shelf: ReturnType<typeof useShelf>['items']): Column[] {
  const found: Column = { id: FOUND, title: 'As found', model: site.model, comparison: null, partsList: null, lost: 0 };
  return [
    found,
    ...openProposals(site).map((proposal): Column => {
      // What no longer applies is left out of the figures and said so.
      const { model, result, lost } = proposedOf(site, proposal);
      const partsList = partsListOf(site.model.system, model.system, shelf);
      return { id: proposal.id, title: proposal.title, model, comparison: result, partsList, lost };
    }),
  ];
}
