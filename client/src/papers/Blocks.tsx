import { check, type Block, type FindingBlock, type PaperTable } from '@true-lantern/core';
import { useWindowDimensions, View } from 'react-native';
import { SvgXml } from 'react-native-svg';
import type { OpenSite } from '../data/site';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { SiteLine } from '../line/SiteLine';

/** The blocks of a paper on the screen: the same that the PDF is drawn from. */
export const Blocks = ({ site, blocks }: { site: OpenSite; blocks: readonly Block[] }) =>
  blocks.map((block, i) => <OneBlock key={i} site={site} block={block} />);

const LOOKS = { lead: 'lead', strong: 'head', small: 'fact', plain: 'base' } as const;

function OneBlock({ site, block }: { site: OpenSite; block: Block }) {
  switch (block.is) {
    case 'head':
      return (
        <View className={`pb-1 ${block.large ? 'mt-8 border-t-2 border-ink pt-3' : 'pt-5'}`}>
          <Heading level={2} look={block.large ? 'lead' : 'station'}>
            {block.text}
          </Heading>
        </View>
      );
    case 'text':
      return (
        <T look={LOOKS[block.look ?? 'plain']} className={block.look === 'strong' ? 'pt-3' : 'py-1'}>
          {block.text}
        </T>
      );
    case 'list':
      return (
        <View role="list">
          {block.items.map((item, i) => (
            <View key={i} role="listitem" className="flex-row gap-2 py-0.5">
              <T className="w-6">{block.numbered ? `${i + 1}.` : '\u2013'}</T>
              <T className="min-w-0 flex-1">{item}</T>
            </View>
          ))}
        </View>
      );
    case 'table':
      return <TableOf table={block} />;
    case 'finding':
      return <FindingOf finding={block} />;
    case 'line':
      return (
        <View className="pt-5">
          <Heading level={2} look="station">
            {block.title}
          </Heading>
          <View className="-mx-[18px]">
            <SiteLine site={site} proposed={{ system: block.model.system, findings: check(block.model) }} />
          </View>
        </View>
      );
    case 'svg':
      return (
        <View className="items-start py-2" role="img" aria-label={block.about}>
          <SvgXml xml={block.svg} width="100%" />
        </View>
      );
    case 'sign':
      return (
        <View className="flex-row gap-8 pt-16">
          {block.who.map((who) => (
            <View key={who} className="flex-1 border-t border-ink pt-1">
              <T look="fact">{`${who}: name, date, signature`}</T>
            </View>
          ))}
        </View>
      );
  }
}

/** Narrower than this two fields beside each other are unreadable, px. */
const NARROW_PX = 600;
/** Two fields in a row as one below the other. */
const inOne = ({ columns, rows, ...rest }: PaperTable): PaperTable => ({
  ...rest,
  columns: columns.slice(0, 2),
  rows: [...rows.map((row) => row.slice(0, 2)), ...rows.map((row) => row.slice(2))].filter(([label]) => label !== ''),
});

/** Ruled rows; figures end on one line; sums below a stroke. */
function TableOf({ table }: { table: PaperTable }) {
  const { width } = useWindowDimensions();
  const { columns, rows, sums = [], boxes = false } = table.pairs && width < NARROW_PX ? inOne(table) : table;
  const titled = columns.some(({ title }) => title !== '');
  const line = (row: readonly string[], key: string, strong: boolean, className: string) => (
    <View key={key} role="row" className={`flex-row gap-2 py-1.5 ${className}`}>
      {boxes ? <View className={`mt-0.5 h-4 w-4 ${strong ? '' : 'border border-ink'}`} aria-hidden /> : null}
      {columns.map(({ wide, figures }, i) => (
        <View key={i} role={strong && key === 'head' ? 'columnheader' : 'cell'} style={{ flex: wide, minWidth: 0 }}>
          <T look="fact" className={`text-ink ${strong ? 'font-semi' : ''} ${figures ? 'text-right' : ''}`}>
            {row[i] ?? ''}
          </T>
        </View>
      ))}
    </View>
  );
  return (
    <View role="table" className="border-t border-rule">
      {titled
        ? line(
            columns.map(({ title }) => title),
            'head',
            true,
            'border-b border-ink',
          )
        : null}
      {rows.map((row, i) => line(row, `row ${i}`, false, 'break-inside-avoid border-b border-rule'))}
      {sums.map((row, i) => line(row, `sum ${i}`, true, i === 0 ? 'border-t-2 border-ink' : ''))}
    </View>
  );
}

function FindingOf({ finding: { verdict, sentence, about, working, notes } }: { finding: FindingBlock }) {
  return (
    <View className="break-inside-avoid flex-row gap-3 py-2">
      <Mark verdict={verdict} size={22} />
      <View className="min-w-0 flex-1">
        <T look="head">{sentence}</T>
        <T look="fact">{about}</T>
        {working.map((text, i) => (
          <T key={i} look="mono">
            {text}
          </T>
        ))}
        {notes.map((text) => (
          <T key={text} look="fact">
            {text}
          </T>
        ))}
      </View>
    </View>
  );
}
