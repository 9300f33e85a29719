import {
  cablesWanted,
  endName,
  likelyRatings,
  partTitle,
  PROTECTION_TYPES,
  said,
  sizeWords,
  type PartOf,
  type WantedCable,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { addPart, draftRow } from '../data/parts';
import type { OpenSite } from '../data/site';
import { useUnits, type Units } from '../data/units';
import { Button, Chip } from '../ui/controls';
import { readRange } from '../ui/number-entry';
import { NumberPad, shownEntry, withoutLast } from '../ui/pad';
import { padKeys, useKeys } from '../ui/keys';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { sizeText } from '../ui/units';
import { CrossSections } from './CrossSections';

type Run = PartOf<'runs'>;
type FuseType = NonNullable<NonNullable<Run['protection']>['type']>;

/** The sizes that are met most, in the person's own measure; the others stand among all fields. */
const SIZES = {
  mm2: ['2.5mm2', '4mm2', '6mm2', '10mm2', '16mm2', '25mm2', '35mm2', '50mm2', '70mm2', '95mm2'],
  AWG: ['14AWG', '12AWG', '10AWG', '8AWG', '6AWG', '4AWG', '2AWG', '1/0AWG', '2/0AWG', '4/0AWG'],
};

const keyOf = ({ from, to }: WantedCable) => `${from} ${to}`;

/** The one that was chosen; a gap on the Line names the part that the cable starts from, or else the one where it ends. */
const whichCable = (wanted: readonly WantedCable[], chosen: string | null): WantedCable | null =>
  wanted.find((one) => keyOf(one) === chosen) ??
  wanted.find(({ from }) => from === chosen) ??
  wanted.find(({ to }) => to === chosen) ??
  wanted[0] ??
  null;

/** What is entered on the sheet, what it comes to, and what it still lacks. */
function useCableDraft(site: OpenSite, at: string | null, units: Units, onDone: () => void) {
  // The one that was asked for stands first: what is off the edge is not seen.
  const wanted = cablesWanted(site.model.system).sort(
    (a, b) => Number(b.from === at || b.to === at) - Number(a.from === at || a.to === at),
  );
  const [chosen, setChosen] = useState<string | null>(at);
  const [size, setSize] = useState<string | null>(null);
  const [length, setLength] = useState('');
  const [fuse, setFuse] = useState<FuseType | null>(null);
  const [rating, setRating] = useState<number | null>(null);
  const [saved, setSaved] = useState<string | null>(null);
  const cable = whichCable(wanted, chosen);
  const name = (one: WantedCable) =>
    `${partTitle(site.model.system, one.from) ?? ''} to ${endName(site.model.system, one.to)}`;
  const metres = readRange(length, 'm', units)?.value;
  const last = site.model.system.runs?.at(-1) ?? null;
  const run: Run | null = cable && size ? { id: 'draft', ...cable, length_m: metres ?? 1, size } : null;
  const ratings = run && fuse && fuse !== 'none' ? likelyRatings(site.model, run, fuse) : [];
  const lacking = [
    ...(size ? [] : ['size']),
    ...(metres === undefined ? ['length'] : []),
    ...(fuse && fuse !== 'none' && rating === null ? ['rating of the fuse (or "cannot see")'] : []),
  ];
  const sameAsLast = () => {
    if (!last) return;
    setSize(last.size);
    setFuse(last.protection?.type ?? null);
    setRating(last.protection?.rating_A ?? null);
  };
  const save = () => {
    if (!cable || !size || metres === undefined) return;
    const protection = fuse === null ? null : fuse === 'none' ? { type: fuse } : { type: fuse, rating_A: rating };
    addPart(
      site,
      draftRow(site, 'runs', {
        kind: cable.kind,
        from: cable.from,
        to: cable.to,
        length_m: metres,
        size,
        ...(protection ? { protection } : {}),
      }),
    );
    setSaved(name(cable));
    setChosen(null);
    setSize(null);
    setLength('');
    setFuse(null);
    setRating(null);
    if (wanted.length <= 1) onDone();
  };
  return {
    wanted,
    cable,
    name,
    choose: setChosen,
    last,
    size,
    setSize,
    length,
    type: (key: string) => setLength((text) => (key === 'back' ? withoutLast(text) : (text + key).slice(0, 12))),
    fuse,
    chooseFuse(next: FuseType | null) {
      setFuse(next);
      setRating(null);
    },
    ratings,
    rating,
    setRating,
    lacking,
    saved,
    sameAsLast,
    save,
  };
}
type CableDraft = ReturnType<typeof useCableDraft>;

/**
 * A cable with its fuse on one sheet: where it goes is inferred from what is there, its size and fuse are a tap each, its
 * length is typed on the pad that is open from the start. After it the next one that is missing.
 */
export function CableSheet({ site, at }: { site: OpenSite; at: string | null }) {
  const units = useUnits();
  const back = () => router.navigate(`/site/${site.id}`);
  const draft = useCableDraft(site, at, units, back);
  const { wanted, cable, name, size, length, lacking, saved } = draft;
  useKeys({ ...padKeys('0123456789.', draft.type), Escape: back });
  const allFields = () => router.navigate(`/site/${site.id}/add?kind=runs&all=1`);
  return (
    <View className="flex-1">
      <Top title="Cable and fuse" onBack={back} />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[640px] gap-3 px-[18px] pb-4 pt-2">
          {saved ? (
            <T look="fact" role="status">
              Recorded: {saved}. {wanted.length === 1 ? '1 cable' : `${wanted.length} cables`} left.
            </T>
          ) : null}
          {cable ? (
            <>
              <Strip label="Where it goes">
                {wanted.map((one) => (
                  <Chip
                    key={keyOf(one)}
                    label={name(one)}
                    on={one === cable}
                    onPress={() => draft.choose(keyOf(one))}
                  />
                ))}
              </Strip>
              <CableChoices draft={draft} units={units} />
              <Length text={length} units={units} />
              <NumberPad onKey={draft.type} />
            </>
          ) : (
            <T>Every cable these parts need is recorded. Add another one field by field.</T>
          )}
          <Button label="All fields, or another cable" kind="plain" onPress={allFields} />
        </View>
      </ScrollView>
      {cable ? (
        <View className="border-t border-rule px-[18px] py-2">
          <Button
            label={lacking.length > 0 && (size || length) ? `Still: ${lacking.join(', ')}` : 'Save this cable'}
            kind="main"
            className="min-h-[64px]"
            disabled={lacking.length > 0}
            onPress={draft.save}
          />
        </View>
      ) : null}
    </View>
  );
}

/** Its size, its fuse and that one's rating: a tap each. */
function CableChoices({ draft, units }: { draft: CableDraft; units: Units }) {
  const { last, size, fuse, ratings, rating } = draft;
  return (
    <>
      {last ? (
        <Button
          label={`The same as the last: ${sizeWords(last.size)}${last.protection?.rating_A ? `, ${last.protection.rating_A} A` : ''}`}
          className="min-h-[48px]"
          onPress={draft.sameAsLast}
        />
      ) : null}
      <Strip label="Size">
        {SIZES[units.size].map((one) => (
          <Chip key={one} label={sizeText(one)} on={size === one} onPress={() => draft.setSize(one)} />
        ))}
      </Strip>
      {size ? <CrossSections size={size} /> : null}
      <Strip label="Fuse or breaker">
        {PROTECTION_TYPES.map((one) => (
          <Chip
            key={one}
            label={one === 'none' ? 'no fuse' : said(one)}
            on={fuse === one}
            onPress={() => {
              draft.chooseFuse(fuse === one ? null : one);
            }}
          />
        ))}
      </Strip>
      {ratings.length > 0 ? (
        <Strip label="Rating">
          {ratings.map((amps) => (
            <Chip key={amps} label={`${amps} A`} on={rating === amps} onPress={() => draft.setRating(amps)} />
          ))}
        </Strip>
      ) : null}
    </>
  );
}

/** What was typed so far. */
const Length = ({ text, units }: { text: string; units: Units }) => (
  <View className="min-h-[44px] flex-row items-baseline gap-3 border-b-2 border-ink">
    <T look="fact">One-way length, along the cable</T>
    <T look="pad" testID="entry" className={`ml-auto ${text === '' ? 'text-soft' : ''}`}>
      {text === '' ? 'length' : shownEntry(text)}
    </T>
    <T look="station">{/[a-z]/i.test(text) ? '' : units.length}</T>
  </View>
);

/** One question with its answers side by side; what does not fit is a swipe away. */
function Strip({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <View className="gap-1">
      <T look="small">{label}</T>
      <ScrollView horizontal showsHorizontalScrollIndicator={false}>
        <View role="radiogroup" aria-label={label} className="flex-row gap-2">
          {children}
        </View>
      </ScrollView>
    </View>
  );
}
