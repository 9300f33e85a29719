import { sentenceOf, type Flip } from '@true-lantern/core';
import { router } from 'expo-router';
import { View } from 'react-native';
import { gapsOf, pathName, placeOf, type Gap } from '../data/reading';
import type { OpenSite } from '../data/site';
import { Row } from '../ui/controls';
import { Mark, VERDICT_WORDS } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { useUnits, type Units } from '../data/units';
import { inUnits, sizeText, usePretty } from '../ui/units';

/** A new site has seen nothing yet: as many rows would bury the numbers that are missing. */
const MOST_LOOKS = 3;

interface QuestionsProps {
  site: OpenSite;
  title: string;
  /** Guesses that turn a verdict: worth finding out before anything else. */
  flips?: readonly Flip[];
}

/** What to find out, each leading back to its field: first the guesses that decide a verdict, then what is missing. */
export function Questions({ site, title, flips = [] }: QuestionsProps) {
  const gaps = gapsOf(site);
  const looks = gaps.filter(({ field }) => field.startsWith('observations.'));
  const folded = looks.length > MOST_LOOKS;
  const shown = folded ? gaps.filter((gap) => !looks.includes(gap)) : gaps;
  if (gaps.length + flips.length === 0) return null;
  return (
    <View className="pb-4 pt-6" testID="questions">
      <Heading level={2} look="station" className="px-[18px] pb-1">
        {title}
      </Heading>
      {flips.map((flip) => (
        <FlipRow key={flip.field} site={site} flip={flip} />
      ))}
      {shown.map((gap) => (
        <GapRow key={gap.path} site={site} gap={gap} />
      ))}
      {folded ? (
        <Row testID="looks" onPress={() => router.navigate(`/site/${site.id}/walk`)}>
          <Mark verdict="unknown" />
          <View className="min-w-0 flex-1">
            <T look="head">{looks.length} what to check by eye</T>
            <T look="fact">answered one by one in the walk-round</T>
          </View>
        </Row>
      ) : null}
    </View>
  );
}

const openField = (site: OpenSite, partId: string, field: string) =>
  router.navigate(`/site/${site.id}/part/${encodeURIComponent(partId)}?field=${encodeURIComponent(field)}`);

function FlipRow({ site, flip }: { site: OpenSite; flip: Flip }) {
  const { partId, field, unit } = placeOf(site, flip.field);
  const units = useUnits();
  const pretty = usePretty();
  const [first] = flip.findings;
  const finding =
    first &&
    site.findings.find(
      ({ rule, subject, quantity }) => rule === first.rule && subject === first.subject && quantity === first.quantity,
    );
  return (
    <Row testID="flip" onPress={() => openField(site, partId, field)}>
      <Mark verdict="unknown" />
      <View className="min-w-0 flex-1">
        <T look="head">{pathName(site, flip.field)}: is it sure?</T>
        <T look="fact">
          anywhere from {endText(flip.low, unit, units)} to {endText(flip.high, unit, units)} would turn{' '}
          {first
            ? `${VERDICT_WORDS[first.from].toLowerCase()} to ${VERDICT_WORDS[first.to].toLowerCase()}`
            : 'a verdict'}
          {finding ? `: ${pretty(sentenceOf(site.judged, finding))}` : ''}
          {flip.findings.length > 1 ? ` And ${flip.findings.length - 1} more.` : ''}
        </T>
      </View>
    </Row>
  );
}

const endText = (end: number | string | boolean, unit: string | null, units: Units) =>
  typeof end === 'boolean'
    ? end
      ? 'yes'
      : 'no'
    : typeof end === 'number'
      ? inUnits(end, unit, units)
      : sizeText(end, units);

function GapRow({ site, gap: { partId, field, question, settles } }: { site: OpenSite; gap: Gap }) {
  return (
    <Row onPress={() => openField(site, partId, field)}>
      <Mark verdict="unknown" />
      <View className="min-w-0 flex-1">
        <T look="head">{question}</T>
        {settles > 0 ? (
          <T look="fact">{settles === 1 ? 'would settle 1 finding' : `would settle ${settles} findings`}</T>
        ) : null}
      </View>
    </Row>
  );
}
