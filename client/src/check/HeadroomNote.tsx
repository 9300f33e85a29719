import { titleOf, type Headroom, type Rung, lowered } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { partName, pathName } from '../data/reading';
import type { OpenSite } from '../data/site';
import { Chip, Row } from '../ui/controls';
import { T } from '../ui/text';
import { withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { Ladder } from './Ladder';

/** What gives out first when more is asked of it: one sentence, and behind it the ladder. */
export function HeadroomNote() {
  const site = useOpenSite();
  const { data, error } = useAnswer<'headroom'>({ ask: 'headroom', model: site.judged });
  const [open, setOpen] = useState(false);
  const [surging, setSurging] = useState(false);
  if (error) return null;
  return (
    <View className="border-b border-rule" testID="headroom">
      <Row aria-expanded={open} onPress={() => setOpen(!open)} className="border-b-0">
        <View className="min-w-0 flex-1">
          <T look="head">{data ? sentence(site, data) : 'Working out how much more it can take ...'}</T>
        </View>
        <T look="fact">{open ? 'hide' : 'ladder'}</T>
      </Row>
      {open && data ? (
        <View className="gap-3 px-[18px] pb-4">
          <View role="radiogroup" aria-label="Kind of load" className="flex-row gap-2">
            <Chip label="Steady load" on={!surging} onPress={() => setSurging(false)} />
            <Chip label="Starting surge of 3 times" on={surging} onPress={() => setSurging(true)} />
          </View>
          <Ladder site={site} rungs={surging ? data.surgingLoad : data.load} />
          {data.unknown.map((item) => (
            <T key={`${item.rule}${item.subject}`} look="fact" className="text-ink">
              Unknown, so not on the ladder: {lowered(titleOf(item))}, {partName(site, item.subject)}.
            </T>
          ))}
          <T>{energyText(site, data)}</T>
          <T>{modulesText(site, data)}</T>
          {roomTexts(site, data).map((text) => (
            <T key={text} testID="room">
              {text}
            </T>
          ))}
        </View>
      ) : null}
    </View>
  );
}

const watts = (value: number) => withUnit(value, 'W');
const who = (site: OpenSite, { subject }: Pick<Rung, 'subject'>) => partName(site, subject);

function sentence(site: OpenSite, { load }: Headroom): string {
  const [first] = load;
  if (!first) return 'Record an inverter or a bank first.';
  // All that stand at nothing: mending the first alone would give nothing.
  const over = load.filter(({ extra_W }) => extra_W === 0);
  const next = load.find(({ extra_W }) => extra_W > 0);
  if (over.length === 0) return `${watts(first.extra_W)} more load until ${who(site, first)} reaches its limit.`;
  const rest = next ? ` Once ${over.length === 1 ? 'that is' : 'all are'} fixed: ${watts(next.extra_W)} more.` : '';
  const names = [...new Set(over.map((rung) => who(site, rung)))];
  const [last] = names.slice(-1);
  const all = names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${last}` : last;
  return `No more load: ${all} ${names.length > 1 ? 'are' : 'is'} over.${rest}`;
}

function energyText(site: OpenSite, { energy }: Headroom): string {
  if (energy.extra_Wh_d === null)
    return `Energy a day: unknown without ${energy.missing.map((path) => pathName(site, path)).join(', ') || 'array and bank'}.`;
  if (energy.extra_Wh_d === 0 && energy.subject)
    return `Energy: none to spare; ${energy.rule === 'bank.autonomy' ? 'the bank' : 'the worst month'} is already short.`;
  return `Energy: ${withUnit(energy.extra_Wh_d, 'Wh')} a day more${energy.rule === 'bank.autonomy' ? ', until the bank runs short' : ', until the worst month runs short'}.`;
}

function modulesText(site: OpenSite, { modules }: Headroom): string {
  const { extra, subject, once } = modules;
  if (extra === null) return 'Modules: none or no controller recorded.';
  const count = (more: number) => (more === 0 ? 'no more' : `${more} more`);
  if (once && subject)
    return `Modules: no more, ${partName(site, subject)} is already over. Once that is fixed: ${count(once.extra)}${once.subject ? `, then ${partName(site, once.subject)}` : ''}.`;
  const then = subject ? `; then ${partName(site, subject)} reaches its limit` : '';
  return `Modules: ${count(extra)} more of the same type on the present controllers${then}.`;
}

/** What each part would take by itself, in sentences. */
function roomTexts(site: OpenSite, { partMargins: { inverter_W, charger_A, wires } }: Headroom): string[] {
  return [
    ...(inverter_W === null ? [] : [`The largest inverter this bank can supply at full rating: ${watts(inverter_W)}.`]),
    ...(charger_A === null
      ? []
      : [
          charger_A === 0
            ? 'No further charger: the bank takes no more than the present ones deliver.'
            : `The largest charger that can be added: ${withUnit(charger_A, 'A')}.`,
        ]),
    ...wires.map(
      ({ id, carries_W, has_W }) =>
        `${partName(site, id)} can take ${watts(carries_W)} of these modules; it has ${watts(has_W)}.`,
    ),
  ];
}
