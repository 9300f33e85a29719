import { messageOf, counted } from '@true-lantern/core';
import type { CalendarAnswer, SiteDue } from '@true-lantern/wire';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { endCalendar, makeCalendar, useCalendar, useFirmDue, useGivenAgain } from '../data/given';
import { newId } from '../data/ids';
import { useMayWrite } from '../data/session';
import { useTrips, useTripWriter } from '../data/trips';
import { useAttempt } from '../ui/attempt';
import { Button, Chip, Plain, Row, Waiting } from '../ui/controls';
import { momentText, shortDay } from '../ui/dates';
import { whenDue } from '../ui/due-words';
import { Page } from '../ui/page';
import { Heading, T } from '../ui/text';
import { ToldOnce } from '../ui/told-once';
import { WORDS } from '../ui/words';

const WITHIN: readonly (readonly [days: number, label: string])[] = [
  [0, 'Today'],
  [30, '30 days'],
  [90, '3 months'],
];
/** So many jobs of a site are shown before the rest is counted. */
const SHOWN = 4;
interface Place {
  latitude: number;
  longitude: number;
}

/** What is due over all sites of the firm: the most overdue site first, or the nearest. */
export function FirmDueScreen() {
  const [within, setWithin] = useState(30);
  const { data, error, isPending, refetch } = useFirmDue(within);
  const [here, setHere] = useState<Place | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const mayWrite = useMayWrite();
  const sites = sorted(
    (data?.sites ?? []).filter(({ due }) => due.length > 0),
    here,
  );
  const jobs = sites.flatMap(({ due }) => due);
  const overdue = jobs.filter(({ overdue_d }) => overdue_d > 0).length;
  const nearest = () => {
    setTrouble(null);
    if (here) return setHere(null);
    // Asked only now, and only for the distance: where one is, is kept nowhere.
    navigator.geolocation?.getCurrentPosition(
      ({ coords }) => setHere(coords),
      () => setTrouble('This device does not share its location.'),
      { timeout: 10_000 },
    );
  };
  return (
    <Page title="Due, all sites" onBack={() => router.navigate('/')}>
      <Heading look="lead" className="px-[18px] pt-4" testID="firm-due-lead">
        {data
          ? jobs.length === 0
            ? 'Nothing is due.'
            : `${counted(jobs.length, 'job')} at ${counted(sites.length, 'site')}${overdue > 0 ? `, ${overdue} overdue` : ''}.`
          : ' '}
      </Heading>
      <View className="flex-row flex-wrap gap-2 px-[18px] pt-3">
        <View role="radiogroup" aria-label="How far ahead" className="flex-row flex-wrap gap-2">
          {WITHIN.map(([days, label]) => (
            <Chip key={days} label={label} on={within === days} onPress={() => setWithin(days)} />
          ))}
        </View>
        <View role="group" aria-label="Order">
          <Chip label="Nearest first" on={here !== null} onPress={nearest} />
        </View>
      </View>
      {trouble ? (
        <T role="alert" className="px-[18px] pt-3">
          {trouble}
        </T>
      ) : null}
      {isPending ? <Waiting what="Loading what is due ..." /> : null}
      {error && !data ? (
        <Plain title="What is due could not be loaded." text={error.message}>
          <Button label={WORDS.tryAgain} kind="main" onPress={() => void refetch()} />
        </Plain>
      ) : null}
      <Trips />
      {sites.map((site) => (
        <SiteJobs
          key={site.id}
          site={site}
          here={here}
          chosen={mayWrite ? chosen.includes(site.id) : null}
          onChoose={() =>
            setChosen(chosen.includes(site.id) ? chosen.filter((id) => id !== site.id) : [...chosen, site.id])
          }
        />
      ))}
      <PlanTrip sites={chosen} onTrouble={setTrouble} />
      <Calendar />
    </Page>
  );
}

/** The site whose oldest job is the most overdue first; or by distance, those of no known place last. */
function sorted(sites: readonly SiteDue[], here: Place | null): SiteDue[] {
  const most = ({ due }: SiteDue) => Math.max(...due.map(({ overdue_d }) => overdue_d));
  return [...sites].sort((a, b) =>
    here ? (away_km(a, here) ?? Infinity) - (away_km(b, here) ?? Infinity) : most(b) - most(a),
  );
}

const EARTH_KM = 6371;
const RAD = Math.PI / 180;
/** Along the great circle (haversine), km; null where the site's place is not known. */
function away_km({ latitude_deg, longitude_deg }: SiteDue, { latitude, longitude }: Place): number | null {
  if (latitude_deg === null || longitude_deg === null) return null;
  const half = (deg: number) => Math.sin((deg * RAD) / 2) ** 2;
  const across = half(latitude_deg - latitude);
  const along = Math.cos(latitude * RAD) * Math.cos(latitude_deg * RAD) * half(longitude_deg - longitude);
  return 2 * EARTH_KM * Math.asin(Math.sqrt(Math.min(1, across + along)));
}

interface SiteJobsProps {
  site: SiteDue;
  here: Place | null;
  /** Whether it goes on the trip; null where none may be planned. */
  chosen: boolean | null;
  onChoose(): void;
}

function SiteJobs({ site, here, chosen, onChoose }: SiteJobsProps) {
  const km = here ? away_km(site, here) : null;
  const overdue = site.due.filter(({ overdue_d }) => overdue_d > 0).length;
  return (
    <View className="pt-5" testID={`due-at-${site.name}`}>
      <Row onPress={() => router.push(`/site/${site.id}/due`)} aria-label={`Due at ${site.name}`}>
        <View className="min-w-0 flex-1">
          <Heading level={2} look="station">
            {site.name}
          </Heading>
          <T look="fact">
            {[
              counted(site.due.length, 'job'),
              overdue > 0 ? `${overdue} overdue` : '',
              km === null ? '' : `${km < 10 ? km.toFixed(1) : Math.round(km)} km away`,
            ]
              .filter(Boolean)
              .join(' \u00b7 ')}
          </T>
        </View>
      </Row>
      {chosen === null ? null : (
        <View className="flex-row px-[18px] py-2">
          <Chip many label="On the trip" aria-label={`${site.name}: on the trip`} on={chosen} onPress={onChoose} />
        </View>
      )}
      {site.due.slice(0, SHOWN).map((one) => (
        <View
          key={`${one.key} ${one.subject}`}
          className={`border-b border-rule px-[18px] py-2 ${one.overdue_d > 0 ? 'border-l-[5px] border-l-ink pl-[13px]' : ''}`}
        >
          <T>{one.what}</T>
          <T look="fact">
            {[whenDue(one) || 'never logged', one.licensed ? 'licensed person' : ''].filter(Boolean).join(' \u00b7 ')}
          </T>
        </View>
      ))}
      {site.due.length > SHOWN ? (
        <T look="fact" className="px-[18px] py-2">{`${site.due.length - SHOWN} more`}</T>
      ) : null}
    </View>
  );
}

/** A trip to the sites that were chosen, in the order of the choosing. */
function PlanTrip({ sites, onTrouble }: { sites: string[]; onTrouble(says: string): void }) {
  const { save } = useTripWriter();
  if (sites.length === 0) return null;
  const where = counted(sites.length, 'site');
  return (
    <View className="px-[18px] pt-5">
      <Button
        kind="main"
        label={`Plan a trip to ${where}`}
        onPress={() => {
          const id = newId();
          // Only with a signal: what is not saved is said here.
          void save({ id, title: `Trip to ${where}`, day: '', sites, note: '' })
            .then(() => router.push(`/trip/${id}`))
            .catch((problem: unknown) => onTrouble(messageOf(problem)));
        }}
      />
    </View>
  );
}

/** Trips that were planned. */
function Trips() {
  const { data } = useTrips();
  if (!data || data.trips.length === 0) return null;
  return (
    <View className="pt-4">
      {data.trips.slice(0, MOST_TRIPS).map(({ id, title, day, sites }) => (
        <Row key={id} onPress={() => router.push(`/trip/${id}`)} testID="trip">
          <View className="min-w-0 flex-1">
            <T look="head">{title}</T>
            <T look="fact">{[day ? shortDay(day) : 'no day yet', counted(sites.length, 'site')].join(' \u00b7 ')}</T>
          </View>
        </Row>
      ))}
    </View>
  );
}
const MOST_TRIPS = 5;

/** An address that a calendar program follows: one's own, told once, ended at any time. */
function Calendar() {
  const { data } = useCalendar();
  const again = useGivenAgain();
  const { made, trouble, attempt } = useAttempt<CalendarAnswer>(again);
  const address = made?.address ?? null;
  return (
    <View className="gap-3 px-[18px] pt-8">
      <Heading level={2} look="station">
        In your calendar
      </Heading>
      <T>
        {data?.since
          ? `Your calendar address has been on since ${momentText(data.since)}, and was read ${counted(data.opened, 'time')}.`
          : 'Your calendar program can follow what is due at all sites.'}
      </T>
      {trouble ? <T role="alert">{trouble}</T> : null}
      {address ? (
        <ToldOnce
          text={address}
          copy="Copy address"
          says="It is shown only once. Anyone who has it can read what is due. It shows no prices and no names."
          testID="calendar-address"
        />
      ) : null}
      <View className="flex-row flex-wrap gap-3">
        <Button
          label={data?.since ? 'New address' : 'Create an address'}
          className="grow"
          onPress={() => void attempt(makeCalendar)}
        />
        {data?.since ? (
          <Button label="Turn off the address" className="grow" onPress={() => void attempt(endCalendar)} />
        ) : null}
      </View>
    </View>
  );
}
