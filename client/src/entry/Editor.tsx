import { estimateClimate, GRADES, type Evidence, type Grade, type PartRow, shownUnit } from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import type { FieldSpec } from '../data/fields';
import type { OpenSite } from '../data/site';
import { useUnits, type Units } from '../data/units';
import { Button, Chip, HeavyRule } from '../ui/controls';
import { useHeldFocus } from '../ui/focus';
import { padKeys, useKeys } from '../ui/keys';
import { NumberPad, shownEntry, withoutLast } from '../ui/pad';
import type { BatteryContext } from '../ui/number-entry';
import { listen } from '../ui/spoken';
import { TermHelp } from '../ui/term';
import { Heading, T } from '../ui/text';
import { inUnits, sizeText, unitText } from '../ui/units';
import { Choice } from './Choice';
import { batteryOf, draftOf, evidenceOf, previewOf, readingOf, type Draft } from './draft';
import { Speak } from '../ui/speak';
import { VerdictChange } from './VerdictChange';
import { storedValue } from './values';
import { WORDS } from '../ui/words';

interface EntryProps {
  /** The site that the part stands in; null on the shelf, where nothing is judged. */
  site: OpenSite | null;
  row: PartRow;
  spec: FieldSpec;
  /**
   * Takes the fields to set; evidence comes as `evidence/FIELD`. `seen`: the part as it was when the field was opened, so that
   * what somebody else set meanwhile is settled by a person, and not overwritten unseen.
   */
  onSave(set: Record<string, unknown>, seen: PartRow): void;
  onDone(): void;
  /** What "can't read it" does where the field was empty already. */
  onSkip?: () => void;
  /** The site is for choosing among its parts only: what is typed is judged elsewhere. */
  quiet?: boolean;
  /** One answer of a few counts at the first tap, without Save. */
  atOnce?: boolean;
}

/** One field over the screen it belongs to. */
export function Editor(props: EntryProps) {
  // The row that was pressed would take the space bar for a press of its own.
  const dialog = useHeldFocus();
  return (
    <View
      ref={dialog}
      tabIndex={-1}
      className="absolute inset-0 justify-end outline-none"
      role="dialog"
      aria-modal
      aria-label={props.spec.label}
    >
      <Pressable
        aria-label="Close without saving"
        className="flex-1 opacity-60"
        style={{ backgroundColor: 'rgba(20,18,13,.45)' }}
        onPress={props.onDone}
      />
      <View className="max-h-[92%] bg-paper">
        <HeavyRule />
        <ScrollView contentContainerClassName="px-[18px] pb-4 pt-3">
          <Entry {...props} />
        </ScrollView>
      </View>
    </View>
  );
}

/** What is typed or picked for a field, what it comes to, and how it is saved with what it rests on. */
function useFieldDraft({ site, row, spec, onSave, onDone, onSkip, quiet = false }: EntryProps) {
  const units = useUnits();
  const before = storedValue(row, spec.path);
  const [seen] = useState(row);
  const [entry, setEntry] = useState('');
  const [picked, setPicked] = useState<unknown>(undefined);
  const [grade, setGrade] = useState<Grade | null>(row.evidence[spec.path]?.grade ?? null);
  const reading = readingOf(spec, row, entry, units);
  const draft: Draft = reading.ask
    ? { trouble: 'This may be read two ways. Which is it?' }
    : draftOf(spec, reading.entry, picked, before, units, batteryOf(site, row));
  const value = 'value' in draft ? draft.value : undefined;
  const preview = useMemo(
    () => (value === undefined || !site || quiet ? null : previewOf(site, row, spec.path, value)),
    [site, quiet, row, spec.path, value],
  );
  const { spread, range, toggle, moved } = useSpread(spec, value, row.evidence[spec.path]);
  // What nobody has touched yet is not scolded.
  const untouched = entry === '' && picked === undefined && before === null;
  const trouble = untouched ? null : 'trouble' in draft ? draft.trouble : (preview?.trouble ?? null);
  const save = (next: unknown) => {
    const set: Record<string, unknown> = {};
    if (next !== before) set[spec.path] = next;
    const evidence = row.evidence[spec.path];
    const now = evidenceOf(evidence, grade, next === null ? {} : { ...draft, ...range }, next !== before || moved);
    // A value that is no longer known has no evidence either; a range belongs to the value it was given for.
    if (next === null && evidence) set[`evidence/${spec.path}`] = null;
    else if (next !== null && now) set[`evidence/${spec.path}`] = now;
    if (Object.keys(set).length > 0) onSave(set, seen);
    else if (next === null) onSkip?.();
    onDone();
  };
  const takeEstimate = (celsius: number) => {
    setEntry(`${celsius} C`);
    setGrade('assumed');
  };
  return {
    before,
    entry,
    setEntry,
    ask: reading.ask,
    picked,
    setPicked,
    grade,
    setGrade,
    value,
    preview,
    spread,
    toggle,
    untouched,
    trouble,
    save,
    takeEstimate,
    type: (key: string) => setEntry((text) => (key === 'back' ? withoutLast(text) : (text + key).slice(0, 24))),
  };
}
type FieldDraft = ReturnType<typeof useFieldDraft>;

/** One field in reach of a thumb: its value, what it rests on, and what the verdicts become before it is let go. */
export function Entry(props: EntryProps) {
  const { site, row, spec, onDone, atOnce = false } = props;
  const draft = useFieldDraft(props);
  const { before, entry, picked, grade, value, untouched, trouble, save } = draft;
  const typed = spec.kind === 'number' || spec.kind === 'size';
  const ofFew = atOnce && (spec.kind === 'choice' || spec.kind === 'flag' || spec.kind === 'part');
  const confirm = () => {
    if (value !== undefined && trouble === null) save(value);
  };
  useKeys(
    {
      Enter: confirm,
      Escape: onDone,
      ...(typed ? padKeys(TYPED, draft.type) : {}),
    },
    true,
  );
  return (
    <View className="gap-3">
      <Heading level={2} look="station">
        {spec.label}
      </Heading>
      {spec.hint ? <T look="fact">{spec.hint}</T> : null}
      <TermHelp of={spec.path} />
      {typed ? (
        <Entered entry={entry} before={before} spec={spec} />
      ) : (
        <Choice
          site={site}
          row={row}
          spec={spec}
          before={before}
          picked={picked}
          setPicked={ofFew ? save : draft.setPicked}
          setGrade={draft.setGrade}
        />
      )}
      {spec.kind === 'strings' && value !== null ? (
        <View className="flex-row flex-wrap gap-2">
          <Chip many label="Maybe one module fewer" on={draft.spread.fewer} onPress={() => draft.toggle('fewer')} />
          <Chip many label="Maybe one module more" on={draft.spread.more} onPress={() => draft.toggle('more')} />
        </View>
      ) : null}
      <WhatBecomes site={site} row={row} draft={draft} />
      {draft.ask ? <WhichIsIt ways={draft.ask} onPick={draft.setEntry} /> : null}
      {typed ? <Typing site={site} row={row} spec={spec} draft={draft} /> : null}
      {site ? (
        <DesignEstimate site={site} path={row.kind === 'site' ? spec.path : ''} onTake={draft.takeEstimate} />
      ) : null}
      {typed ? <Speak label="Say the number" hear={listen} onHeard={draft.setEntry} /> : null}
      {spec.path.startsWith('observations.') ? null : (
        <View role="radiogroup" aria-label="Where the value comes from" className="flex-row flex-wrap gap-2">
          {GRADES.map((item) => (
            <Chip key={item} label={item} on={grade === item} onPress={() => draft.setGrade(item)} />
          ))}
        </View>
      )}
      <View className="flex-row gap-3">
        {spec.required ? (
          <Button label={WORDS.cancel} className="min-h-[64px] flex-1" onPress={onDone} />
        ) : (
          <Button label="Can't read it" className="min-h-[64px] flex-1" onPress={() => save(null)} />
        )}
        {ofFew ? null : (
          <Button
            label={WORDS.save}
            kind="main"
            className="min-h-[64px] flex-1"
            disabled={value === undefined || trouble !== null || (untouched && spec.required === true)}
            onPress={confirm}
          />
        )}
      </View>
    </View>
  );
}

/** Both readings of a number that may be read two ways, a tap each. */
function WhichIsIt({ ways, onPick }: { ways: object; onPick(entry: string): void }) {
  return (
    <View role="group" aria-label="Which is it?" className="flex-row gap-3">
      {Object.values(ways).map((way: string) => (
        <Button key={way} label={way} className="min-h-[64px] flex-1" onPress={() => onPick(way)} />
      ))}
    </View>
  );
}

interface DraftProps {
  site: OpenSite | null;
  row: PartRow;
  draft: FieldDraft;
}

/** Why it cannot be saved, what disagrees with it, and which verdicts change. */
function WhatBecomes({ site, row, draft: { trouble, preview } }: DraftProps) {
  return (
    <>
      {trouble ? (
        <T look="fact" role="alert" className="font-semi text-ink">
          {trouble}
        </T>
      ) : null}
      {preview?.doubts.map((doubt) => (
        <T key={doubt} look="fact" role="alert" className="border-l-4 border-ink pl-3 font-semi text-ink">
          Two numbers disagree: {doubt} Read both again; it can be saved as it is.
        </T>
      ))}
      {preview?.site && site ? (
        <VerdictChange before={site} after={preview.site} partId={String(row.body.id ?? row.kind)} />
      ) : null}
    </>
  );
}

/** The keys of a number or a size. */
function Typing({ site, row, spec, draft }: DraftProps & { spec: FieldSpec }) {
  const units = useUnits();
  return (
    <>
      {spec.kind === 'size' ? <CommonSizes entry={draft.entry} onPick={draft.setEntry} /> : null}
      <NumberPad
        onKey={draft.type}
        more={['~', '..', ...unitKeys(spec, units), ...batteryKeys(spec, batteryOf(site, row))]}
      />
    </>
  );
}

/** "Four or five modules": how far the count of an array's modules may be off, as the ends of its evidence. */
function useSpread(spec: FieldSpec, value: unknown, evidence: Evidence | undefined) {
  const count = spec.kind === 'strings' && Array.isArray(value) ? value.flat().length : 0;
  const { low, high } = evidence ?? {};
  const [before] = useState({
    fewer: typeof low === 'number' && low < count,
    more: typeof high === 'number' && high > count,
  });
  const [spread, setSpread] = useState(before);
  const open = count > 0 && (spread.fewer || spread.more);
  return {
    spread,
    range: open ? { low: count - Number(spread.fewer), high: count + Number(spread.more) } : {},
    moved: spread.fewer !== before.fewer || spread.more !== before.more,
    toggle: (end: 'fewer' | 'more') => setSpread((now) => ({ ...now, [end]: !now[end] })),
  };
}

/** Keys of a desk's keyboard that count as the pad's: figures, and the letters of units. */
const TYPED = '0123456789.,-/ ~\'"abcdefgiklmnoprtuvwy';

/** The units that may stand behind this number, where there is a choice. */
function unitKeys(spec: FieldSpec, units: Units): string[] {
  if (spec.kind === 'size') return units.size === 'AWG' ? ['AWG', 'mm2'] : ['mm2', 'AWG'];
  if (spec.unit === 'm') return ['m', 'ft', 'in'];
  if (spec.unit === 'mm') return ['mm', 'cm', 'in'];
  if (spec.unit === 'kg') return ['kg', 'lb'];
  return spec.unit === 'degC' ? ['degC', 'degF'] : [];
}

/** What amperes and ampere-hours may be written by, where the battery is known. */
function batteryKeys({ unit, kind }: FieldSpec, battery: BatteryContext | null): string[] {
  if (kind !== 'number' || !battery) return [];
  if (unit === 'A' && battery.ah) return ['C/'];
  return unit === 'Ah' && battery.volts ? ['Wh'] : [];
}

const SIZES = {
  mm2: ['4mm2', '6mm2', '10mm2', '16mm2', '25mm2', '35mm2', '50mm2', '70mm2'],
  AWG: ['12AWG', '10AWG', '8AWG', '6AWG', '4AWG', '2AWG', '1/0AWG', '2/0AWG', '4/0AWG'],
};

/** The sizes that are mostly met, one tap each. */
function CommonSizes({ entry, onPick }: { entry: string; onPick(size: string): void }) {
  const { size } = useUnits();
  return (
    <View className="flex-row flex-wrap gap-2" role="radiogroup" aria-label="Common sizes">
      {SIZES[size].map((item) => (
        <Chip key={item} label={sizeText(item)} on={entry === item} onPress={() => onPick(item)} />
      ))}
    </View>
  );
}

function Entered({ entry, before, spec }: { entry: string; before: unknown; spec: FieldSpec }) {
  const units = useUnits();
  const stored =
    before === null
      ? 'not known'
      : typeof before === 'number'
        ? inUnits(before, spec.unit ?? '', units, 6)
        : sizeText(String(before));
  // A unit that was typed stands in the entry already.
  const unit = /[a-z]/i.test(entry.replace(/k$/, '')) || spec.kind === 'size' ? '' : shownUnit(spec.unit ?? '', units);
  return (
    <View className="min-h-[56px] flex-row items-baseline gap-3 border-b-2 border-ink" aria-live="polite">
      <T look="pad" testID="entry" className={entry === '' ? 'text-soft' : ''}>
        {entry === '' ? stored : shownEntry(entry)}
      </T>
      <T look="station">{entry === '' ? (before === null ? unitText(unit) : '') : unitText(unit)}</T>
      {entry !== '' && before !== null ? (
        <T look="fact" className="ml-auto line-through">
          {stored}
        </T>
      ) : null}
    </View>
  );
}

/** A design temperature by latitude and elevation, where nobody on the spot knows the record: marked as assumed. */
function DesignEstimate({ site, path, onTake }: { site: OpenSite; path: string; onTake(celsius: number): void }) {
  const units = useUnits();
  const { latitude_deg, elevation_m } = site.file.site;
  if ((path !== 'recordLow_C' && path !== 'recordHigh_C') || latitude_deg === null || latitude_deg === undefined)
    return null;
  const celsius = estimateClimate(latitude_deg, elevation_m ?? 0)[path];
  return <Button label={`Estimate by latitude: ${inUnits(celsius, 'degC', units)}`} onPress={() => onTake(celsius)} />;
}
