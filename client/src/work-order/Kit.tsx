import type { KitState, Proposal, Work, KitLine } from '@true-lantern/core';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { kitKey, setKit } from '../data/work';
import { Chip, Plain } from '../ui/controls';
import { T } from '../ui/text';
import { pretty, usePretty, unitText } from '../ui/units';

const STATES: [KitState, string][] = [
  ['ordered', 'ordered'],
  ['on-the-van', 'on the van'],
  ['used', 'used'],
  ['back', 'back'],
];

/** How it stands with a line of the kit; null: not seen to. */
export const kitStateOf = ({ work }: Proposal, { what }: KitLine): KitState | null =>
  (work?.kit as Record<string, KitState | null> | null | undefined)?.[kitKey(what)] ?? null;

/** Lines that are not here yet, of a kit that somebody keeps: a line that nobody touched says nothing. */
export function shortOf(proposal: Proposal, work: Work): KitLine[] {
  const kept = Object.values((proposal.work?.kit as Record<string, KitState | null> | null | undefined) ?? {}).some(
    Boolean,
  );
  if (!kept) return [];
  return work.kit.filter((line) => !['on-the-van', 'used'].includes(kitStateOf(proposal, line) ?? ''));
}

/** What is fetched, by thumb: ordered, on the van, used, brought back. What is short says which steps wait for it. */
export function Kit({ proposal, work }: { proposal: Proposal; work: Work }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  if (work.kit.length === 0) return <Plain title="Nothing to bring." text="Only settings change." />;
  const short = new Set(shortOf(proposal, work).map(({ line }) => line));
  const stepsFor = (ids: readonly string[]) =>
    work.steps.filter(({ act, parts }) => act === 'fit' && parts.some((id) => ids.includes(id))).map(({ n }) => n);
  return (
    <ScrollView>
      <View className="max-w-[860px] pb-10" testID="kit">
        {work.kit.map((line) => {
          const state = kitStateOf(proposal, line);
          const waiting = short.has(line.line) ? stepsFor(line.for) : [];
          return (
            <View key={line.line} className="gap-2 border-b border-rule px-[18px] py-3" testID={`kit-${line.line}`}>
              <View className="flex-row items-baseline gap-3">
                <T look="figure" className="w-14">{`${line.count} \u00d7`}</T>
                <View className="min-w-0 flex-1">
                  <T look="head">{pretty(line.what)}</T>
                  {line.spec.length > 0 ? <T look="fact">{specText(line)}</T> : null}
                  {waiting.length > 0 ? (
                    <T look="fact" className="font-semi text-ink">
                      {`Not on the van yet: ${waiting.length === 1 ? 'step' : 'steps'} ${waiting.join(', ')} ${waiting.length === 1 ? 'waits' : 'wait'} for it.`}
                    </T>
                  ) : null}
                </View>
                {line.price === undefined ? null : <T look="fact">{`${line.price} ${line.currency ?? ''}`}</T>}
              </View>
              {mayWrite ? (
                <View role="radiogroup" aria-label={`${line.what}: where it is`} className="flex-row flex-wrap gap-2">
                  {STATES.map(([name, label]) => (
                    <Chip
                      key={name}
                      label={label}
                      on={state === name}
                      onPress={() => setKit(site, proposal.id, line.what, state === name ? null : name)}
                    />
                  ))}
                </View>
              ) : state ? (
                <T look="fact">{STATES.find(([name]) => name === state)?.[1]}</T>
              ) : null}
            </View>
          );
        })}
      </View>
    </ScrollView>
  );
}

const SPEC_WORDS: Readonly<Record<string, string>> = {
  rating_A: '',
  voltage_V: 'at least',
  interrupt_A: 'breaking capacity at least',
  coil_m: 'coil',
  length_m: 'each',
  stud_mm: 'stud',
};
/** What must be right about it, in a line: figures that are on its plate anyway are not repeated. */
function specText({ spec }: KitLine): string {
  return spec
    .filter(({ quantity }) => quantity in SPEC_WORDS && quantity !== 'coil_m')
    .map(({ quantity, value, unit }) =>
      [SPEC_WORDS[quantity], `${pretty(typeof value === 'number' ? String(value) : value)}\u00a0${unitText(unit)}`]
        .filter(Boolean)
        .join(' '),
    )
    .join(', ');
}
