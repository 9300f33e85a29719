import {
  endsOf,
  type CableRow,
  type Form,
  type Ink,
  type LeverRow,
  type LineRow,
  type LoadRow,
  type LoadsRow,
  type StationRow,
} from '@true-lantern/core';
import { Pressable, View } from 'react-native';
import { T } from '../ui/text';
import { Wick } from '../ui/wick';

interface RowTextProps {
  row: LineRow;
  gutter: number;
  selected: string | null;
  guesses: ReadonlySet<string>;
  onOpen(id: string): void;
}

/** The words of one row of the Line: name, figures, what it rests on. */
export function RowText({ row, gutter, selected, guesses, onOpen }: RowTextProps) {
  if (row.type === 'sun')
    return (
      <View style={{ paddingLeft: gutter + 8 }} className="h-full justify-center pr-[18px]">
        <T look="fact" numberOfLines={1}>
          {row.text}
        </T>
      </View>
    );
  if (row.type === 'bus')
    return (
      <View className="h-full justify-center">
        <View className="absolute left-1 right-[14px] h-[8px] bg-ink" />
        {row.text ? (
          <T look="small" className="absolute right-[14px] top-[-6px] font-semi">
            {row.text}
          </T>
        ) : null}
      </View>
    );
  const open = () => onOpen(row.id);
  const chosen = selected === row.id;
  const frame = `h-full justify-center pr-[14px] active:bg-well ${chosen ? 'border-r-[5px] border-lamp bg-well' : ''}`;
  if (row.type === 'gap')
    return (
      <Pressable
        role="button"
        aria-label={`Missing: ${row.text}`}
        onPress={open}
        className={frame}
        style={{ paddingLeft: gutter }}
      >
        <T look="fact" className="font-semi text-ink">
          {row.text}
        </T>
      </Pressable>
    );
  return (
    <Pressable
      role="button"
      testID={`${row.type}-${row.id}`}
      aria-label={labelFor(row)}
      onPress={open}
      disabled={row.ink === 'gone'}
      className={frame}
      style={{ paddingLeft: gutter }}
    >
      {row.type === 'station' ? (
        <StationText station={row} guesses={guesses} />
      ) : (
        <SlenderText row={row} guesses={guesses} />
      )}
    </Pressable>
  );
}

const inkClass = (ink: Ink) =>
  ink === 'new' || ink === 'changed'
    ? 'text-second'
    : ink === 'off'
      ? 'text-soft'
      : ink === 'gone'
        ? 'line-through'
        : '';

function StationText({ station, guesses }: { station: StationRow & LineRow; guesses: ReadonlySet<string> }) {
  const { ink, title, fact, was, form } = station;
  const beside = form.figure === 'beside';
  return (
    <View>
      <View className="flex-row items-baseline justify-between gap-3">
        <T look="station" className={`shrink ${inkClass(ink)}`}>
          {title}
        </T>
        {beside ? <Figure row={station} guesses={guesses} /> : null}
      </View>
      {was ? (
        <T look="fact" className="line-through">
          {was}
        </T>
      ) : null}
      <View className="flex-row items-center justify-between gap-3">
        <T look="fact" className={`shrink ${ink === 'new' || ink === 'changed' ? 'text-second' : ''}`}>
          {fact}
        </T>
        {beside ? <RowWick row={station} /> : null}
      </View>
      {beside ? null : <FigureLines row={station} guesses={guesses} />}
    </View>
  );
}

/** A cable, a switch or a load: one line; what is over or tight has its figure below, as loud as a part's. */
function SlenderText({
  row,
  guesses,
}: {
  row: (CableRow | LeverRow | LoadRow | LoadsRow) & LineRow;
  guesses: ReadonlySet<string>;
}) {
  const [start, end] = endsOf(row);
  const cable = row.type === 'cable';
  const struck = cable && row.was !== null;
  const last = end ? (
    <T
      look={cable ? 'small' : 'fact'}
      {...(row.type === 'loads' ? { numberOfLines: 1 } : {})}
      className={`${row.form.broken ? '' : 'shrink-0 text-right'} ${struck ? 'line-through' : ''}`}
    >
      {end}
    </T>
  ) : null;
  return (
    <View>
      <View className="flex-row items-baseline justify-between gap-3">
        <T look="fact" className={`shrink text-ink ${inkClass(row.ink)}`}>
          {start}
        </T>
        {row.form.figure === 'beside' ? <Figure row={row} guesses={guesses} /> : row.form.broken ? null : last}
      </View>
      {row.form.broken ? last : null}
      <FigureLines row={row} guesses={guesses} />
    </View>
  );
}

type Judged = Pick<StationRow, 'worst' | 'said'> & { form: Form } & Pick<LineRow, 'y'>;

/** The figure below the words: on a line with its wick, or over two where it is wide. */
function FigureLines({ row, guesses }: { row: Judged; guesses: ReadonlySet<string> }) {
  if (!row.said || row.form.figure === 'none' || row.form.figure === 'beside') return null;
  if (row.form.figure === 'under')
    return (
      <View className="flex-row items-center justify-between gap-2">
        <Figure row={row} guesses={guesses} />
        <RowWick row={row} />
      </View>
    );
  return (
    <View>
      <View className="flex-row items-center justify-between gap-2">
        <T look="head">{row.said.word}</T>
        <RowWick row={row} />
      </View>
      <FigureText row={row} guesses={guesses} />
    </View>
  );
}

function Figure({ row, guesses }: { row: Judged; guesses: ReadonlySet<string> }) {
  if (!row.said) return null;
  return (
    <View className="shrink-0 flex-row items-baseline gap-2">
      <T look="head">{row.said.word}</T>
      <FigureText row={row} guesses={guesses} />
    </View>
  );
}

function FigureText({ row, guesses }: { row: Judged; guesses: ReadonlySet<string> }) {
  const { said, worst } = row;
  if (!said) return null;
  const guessed = worst?.assumed.some((path) => guesses.has(path)) ?? false;
  return (
    <T
      look={said.figures ? 'figure' : 'base'}
      testID="figure"
      className={guessed && said.figures ? 'border-b-2 border-dotted border-ink' : ''}
    >
      {said.text}
    </T>
  );
}

function RowWick({ row: { worst, said, form } }: { row: Judged }) {
  if (!worst || form.wick === 0) return null;
  return (
    <Wick
      use={worst.use ?? (worst.verdict === 'over' ? 1.25 : 0)}
      tightAbove={worst.tightAbove ?? 1}
      width={form.wick}
      label={`${said?.word ?? ''} ${said?.text ?? ''}`.trim()}
    />
  );
}

const labelFor = (row: (StationRow | CableRow | LeverRow | LoadRow | LoadsRow) & LineRow): string =>
  [
    row.type === 'cable' ? row.label : row.title,
    row.fact,
    row.said ? `${row.said.word} ${row.said.text}` : row.type === 'station' ? 'not judged' : '',
  ]
    .filter(Boolean)
    .join(', ');
