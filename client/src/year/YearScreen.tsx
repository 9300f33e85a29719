import {
  changesOfTries,
  darkSentence,
  FaultError,
  isTrying,
  withChanges,
  modelOfTries,
  NO_TRIES,
  proposedModel,
  spellSentence,
  yearWhatIfs,
  type Change,
  type Model,
  type WeatherChoice,
  type YearStory,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { saveProposal } from '../ui/save-proposal';
import { openProposals } from '../data/work';
import { placeOf } from '../data/reading';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { Button, Chip, Row } from '../ui/controls';
import { MONTHS } from '../ui/months';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { withUnit } from '../ui/units';
import { DayHours } from './DayHours';
import { Months } from './Months';
import { Ribbon } from './Ribbon';
import { TryIt } from './TryIt';
import { WeatherOf } from './WeatherOf';
import { WhatHelps } from './WhatHelps';
import { MANY, PIECES, SEEDED, useYears } from './years';
import { WORDS } from '../ui/words';

interface Beside {
  id: string;
  title: string;
  model: Model;
  /** Not a proposal yet: what would be saved. */
  changes: Change[] | null;
}

/** What is looked at, what stands beside it, and how far both years are. */
function useYearBeside(site: OpenSite) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [tries, setTries] = useState(NO_TRIES);
  const [weather, setWeather] = useState<WeatherChoice>(SEEDED);
  const [most, setMost] = useState(PIECES);
  const [opened, setOpened] = useState<{ day: number; year: number | null } | null>(null);
  const others = useMemo(() => besideOf(site), [site]);
  const trying = isTrying(site.judged, tries);
  const tried = useMemo(
    (): Beside => ({
      id: 'tried',
      title: 'With your changes',
      model: modelOfTries(site.judged, tries),
      changes: changesOfTries(site.judged, tries),
    }),
    [site.judged, tries],
  );
  const other = trying ? tried : (others.find(({ id }) => id === chosen) ?? null);
  const found = useYears(site.judged, weather, most);
  const would = useYears(other?.model ?? null, weather, most);
  const seeded = weather.kind === 'seeded';
  return {
    others,
    other,
    chosen: trying ? null : chosen,
    trying,
    tries,
    setTries,
    weather,
    setWeather,
    most,
    setMost,
    opened,
    setOpened,
    error: found.error,
    story: found.story,
    wouldBe: would.story,
    /** Of both, 0 to 1. */
    share: Math.min(found.share, would.share),
    working: seeded && (found.share < 1 || would.share < 1),
    count: seeded ? MANY : 1,
    choose(id: string | null) {
      setTries(NO_TRIES);
      setChosen(id);
    },
  };
}
type YearBeside = ReturnType<typeof useYearBeside>;

/** Will it be dark in January? The year over two hundred weathers, as found and beside it what would be. */
export function YearScreen() {
  const site = useOpenSite();
  const year = useYearBeside(site);
  const { others, other, chosen, trying, story, wouldBe, choose } = year;
  if (year.error) return <Lacking site={site} error={year.error} />;
  const said = wouldBe && story ? `${darkSentence(wouldBe)} ${compared(story, wouldBe)}` : 'Working it out ...';
  return (
    <View className="flex-1">
      <Top title="The year" onBack={() => router.navigate(`/site/${site.id}/check`)} />
      <ScrollView>
        <View className="max-w-[860px] gap-3 px-[18px] pb-10 pt-3">
          {story ? (
            <Told site={site} year={year} story={story} />
          ) : (
            <T look="fact" role="status">
              Simulating the first years ...
            </T>
          )}
          <View role="radiogroup" aria-label="Beside it" className="flex-row flex-wrap gap-2 pt-1">
            <Chip label="Current system only" on={other === null} onPress={() => choose(null)} />
            {others.map(({ id, title }) => (
              <Chip key={id} label={title} on={chosen === id} onPress={() => choose(chosen === id ? null : id)} />
            ))}
          </View>
          <TryIt model={site.judged} tries={year.tries} onTry={year.setTries} said={!trying || !story ? null : said} />
          {other?.changes && other.changes.length > 0 ? (
            <SaveIt site={site} title={other.title} changes={other.changes} />
          ) : null}
          {story ? <Months story={other && wouldBe ? wouldBe : story} second={Boolean(other && wouldBe)} /> : null}
          <WeatherOf weather={year.weather} onWeather={year.setWeather} />
          {story ? <WhatHelps site={site} /> : null}
        </View>
      </ScrollView>
    </View>
  );
}

/** The year as it is told: in a sentence, as a ribbon, by the hours of a day that is touched. */
function Told({ site, year, story }: { site: OpenSite; year: YearBeside; story: YearStory }) {
  const { opened, setOpened, other, wouldBe, trying, weather, count, most } = year;
  return (
    <>
      <Heading level={2} look="lead" testID="year-lead">
        {darkSentence(story)}
      </Heading>
      <T>{spellSentence(story)}</T>
      {story.worst.hours > 0 ? (
        <Button
          label="Hour by hour"
          kind="plain"
          className="self-start px-0"
          onPress={() => setOpened({ day: Math.floor(story.worst.start_h / 24), year: story.worst.year })}
        />
      ) : null}
      {other && wouldBe && !trying ? (
        <T className="text-second" testID="year-beside">
          {`${other.title}. ${darkSentence(wouldBe)} ${compared(story, wouldBe)}`}
        </T>
      ) : null}
      <Ribbon
        story={story}
        other={other ? wouldBe : null}
        label={ribbonWords(story)}
        day={opened?.day ?? null}
        onDay={(day) => setOpened({ day, year: null })}
      />
      {opened ? (
        <DayHours
          model={other?.model ?? site.judged}
          weather={weather}
          story={(other ? wouldBe : null) ?? story}
          day={opened.day}
          year={opened.year}
          onDay={(day) => setOpened({ ...opened, day })}
          onClose={() => setOpened(null)}
        />
      ) : null}
      <T look="fact">
        Lowest state of charge of each day. Tap a day for its hours.
        {story.count < count ? ` ${story.count} of ${count} years${most < PIECES ? '; stopped.' : ' so far.'}` : ''}
      </T>
      <StopOrGoOn year={year} />
    </>
  );
}

/** Where it takes long it can be stopped; what was stopped goes on. */
function StopOrGoOn({ year: { working, share, most, setMost } }: { year: YearBeside }) {
  const slow = useSlow(working);
  if (slow)
    return (
      <Button
        label={WORDS.stop}
        className="self-start"
        onPress={() => setMost(Math.max(1, Math.floor(PIECES * share)))}
      />
    );
  if (most < PIECES) return <Button label="Run all years" className="self-start" onPress={() => setMost(PIECES)} />;
  return null;
}

/** Whether something goes on for so long that one may want to stop it: what is quick shows no key that is gone again. */
function useSlow(working: boolean, after_ms = 2500): boolean {
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setSlow(working), working ? after_ms : 0);
    return () => clearTimeout(timer);
  }, [working, after_ms]);
  return slow && working;
}

/** Proposals that apply, and what one would like to try at once. */
function besideOf(site: OpenSite): Beside[] {
  const proposals = openProposals(site).flatMap(({ id, title }): Beside[] => {
    const model = proposedModel(site.file, id);
    return model ? [{ id: `proposal ${id}`, title, model, changes: null }] : [];
  });
  const tries = yearWhatIfs(site.judged).map(({ id, title, changes }): Beside => ({
    id,
    title,
    changes,
    model: withChanges(site.judged, changes),
  }));
  return [...tries, ...proposals];
}

function SaveIt({ site, title, changes }: { site: OpenSite; title: string; changes: Change[] }) {
  const mayWrite = useMayWrite();
  if (!mayWrite) return null;
  return <Button label={WORDS.saveAsProposal} kind="second" onPress={() => saveProposal(site, title, changes)} />;
}

const kWh = (value: number) => withUnit(value, 'kWh');

/** What another year is against this one: unserved, generator, life. */
function compared({ totals, life_y }: YearStory, other: YearStory): string {
  const less = totals.unserved_kWh - other.totals.unserved_kWh;
  const served =
    Math.abs(less) < 0.5
      ? 'No change in energy not supplied.'
      : less > 0
        ? `${kWh(less)} a year more supplied.`
        : `${kWh(-less)} a year less supplied.`;
  const hours = totals.generator_h - other.totals.generator_h;
  const run = Math.abs(hours) < 1 ? '' : ` Generator ${withUnit(Math.abs(hours), 'h')} ${hours > 0 ? 'less' : 'more'}.`;
  const longer = other.life_y - life_y;
  const lasts =
    Math.abs(longer) < 0.1
      ? ''
      : ` A new bank lasts ${withUnit(other.life_y, 'years', 2)} instead of ${withUnit(life_y, 'years', 2)}.`;
  return `${served}${run}${lasts}`;
}

function ribbonWords({ days, darkMonths, count }: YearStory): string {
  const lowest = days.reduce((low, day, i) => (day.p5 < (days[low]?.p5 ?? 1) ? i : low), 0);
  const dark = darkMonths.flatMap((chance, month) =>
    chance > 0 ? [`${MONTHS[month]} ${Math.round(100 * chance)} %`] : [],
  );
  return `Charge of the bank through ${count} years. Lowest in one year of twenty: ${Math.round(100 * (days[lowest]?.p5 ?? 0))} %, on day ${lowest + 1}. Power cuts: ${dark.join(', ') || 'never'}.`;
}

/** What must be known first, each leading to its field. */
function Lacking({ site, error }: { site: OpenSite; error: Error }) {
  const faults = error instanceof FaultError ? error.faults : pathsOf(error.message);
  return (
    <View className="flex-1">
      <Top title="The year" onBack={() => router.navigate(`/site/${site.id}/check`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-8">
          <T className="px-[18px] py-4">The year cannot be simulated yet. Missing:</T>
          {faults.map(({ path }) => {
            const { partId, field, question } = placeOf(site, path);
            return (
              <Row
                key={path}
                onPress={() =>
                  router.navigate(
                    `/site/${site.id}/part/${encodeURIComponent(partId)}${field ? `?field=${encodeURIComponent(field)}` : ''}`,
                  )
                }
              >
                <Mark verdict="unknown" />
                <T look="head" className="flex-1">
                  {question}
                </T>
              </Row>
            );
          })}
        </View>
      </ScrollView>
    </View>
  );
}

/** A fault that crossed from the engine's thread has become its words: "bank.place.space: is unknown, ...", a line each. */
const pathsOf = (message: string): { path: string }[] =>
  message.split('\n').flatMap((line) => {
    const path = /^([\w.[\]-]+): /.exec(line)?.[1];
    return path ? [{ path }] : [];
  });
