import { counted, dayFrom, tripKit } from '@true-lantern/core';
import type { SiteDue, Trip } from '@true-lantern/wire';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { useFirmDue } from '../data/given';
import { useMayWrite } from '../data/session';
import { useTrips, useTripWriter } from '../data/trips';
import { useAttempt } from '../ui/attempt';
import { Button, Plain, Row, Waiting } from '../ui/controls';
import { shortDay } from '../ui/dates';
import { whenDue } from '../ui/due-words';
import { TextField } from '../ui/field';
import { Page } from '../ui/page';
import { PrintButton } from '../ui/print';
import { Heading, T } from '../ui/text';
import { WORDS } from '../ui/words';

/** Jobs that are due so soon go along. */
const WITHIN_D = 30;

/** One trip: its day, the sites in their order with what is due there, and what to take along. A work sheet when printed. */
export function TripScreen({ id }: { id: string }) {
  const { data, error } = useTrips();
  const due = useFirmDue(WITHIN_D);
  const mayWrite = useMayWrite();
  const back = () => router.navigate('/due');
  const trip = data?.trips.find((one) => one.id === id);
  if (!trip)
    return (
      <Page title="Trip" onBack={back}>
        {data || error ? <Plain title="This trip no longer exists." /> : <Waiting what="Loading the trip ..." />}
      </Page>
    );
  const known = new Map((due.data?.sites ?? []).map((site) => [site.id, site]));
  const sites = trip.sites.map((site) => known.get(site) ?? null);
  const jobs = sites.flatMap((site) => site?.due ?? []);
  return (
    <Page title={trip.title} onBack={back}>
      <Heading look="lead" className="px-[18px] pt-4" testID="trip-lead">
        {`${counted(jobs.length, 'job')} at ${counted(trip.sites.length, 'site')}${trip.day ? ` on ${shortDay(trip.day)}` : ''}.`}
      </Heading>
      {mayWrite ? <Edit trip={trip} /> : null}
      {trip.note ? (
        <View className={mayWrite ? 'hidden print:flex' : ''} testID="trip-note">
          <T className="px-[18px] pt-3">{trip.note}</T>
        </View>
      ) : null}
      {sites.map((site, at) => (
        <Stop key={trip.sites[at]} site={site} at={at} trip={trip} />
      ))}
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-6">
        Take along
      </Heading>
      {tripKit(jobs.map(({ key }) => key)).map(({ what, jobs: count }) => (
        <View key={what} className="break-inside-avoid flex-row gap-3 border-b border-rule px-[18px] py-2">
          <TickBox />
          <T className="min-w-0 flex-1">{what}</T>
          <T look="fact">{counted(count, 'job')}</T>
        </View>
      ))}
      {jobs.length === 0 ? <T className="px-[18px]">Nothing is due at these sites.</T> : null}
      <View className="flex-row flex-wrap gap-3 px-[18px] pt-6 print:hidden">
        <PrintButton label="Print work sheet" />
      </View>
    </Page>
  );
}

/** A box to tick by pen; on screen what is done is logged at the site. */
const TickBox = () => (
  <View className="hidden print:mt-1 print:flex print:h-4 print:w-4 print:border print:border-ink" />
);

function Edit({ trip }: { trip: Trip }) {
  const { save, remove } = useTripWriter();
  const { trouble, attempt } = useAttempt<undefined>(() => undefined);
  const [title, setTitle] = useState(trip.title);
  const [day, setDay] = useState(trip.day);
  const [note, setNote] = useState(trip.note);
  const dated = day === '' || dayFrom(day) !== null;
  const good = title.trim() !== '' && dated;
  const changed = title !== trip.title || day !== trip.day || note !== trip.note;
  return (
    <View className="gap-3 px-[18px] pt-4 print:hidden">
      <TextField label="Title" value={title} onChangeText={setTitle} />
      <TextField
        label="Day (YYYY-MM-DD)"
        value={day}
        onChangeText={setDay}
        error={dated ? undefined : 'For example 2026-12-04.'}
      />
      <TextField label="Note" value={note} onChangeText={setNote} multiline />
      <View className="flex-row flex-wrap gap-3">
        <Button
          label={WORDS.save}
          kind="main"
          className="grow"
          disabled={!good || !changed}
          onPress={() => void attempt(() => save({ ...trip, title: title.trim(), day, note }).then(() => undefined))}
        />
        <Button
          label="Remove trip"
          onPress={() =>
            void attempt(() =>
              remove(trip.id).then(() => {
                router.navigate('/due');
                return undefined;
              }),
            )
          }
        />
      </View>
      {trouble ? <T role="alert">{trouble}</T> : null}
    </View>
  );
}

function Stop({ site, at, trip }: { site: SiteDue | null; at: number; trip: Trip }) {
  const mayWrite = useMayWrite();
  const { save } = useTripWriter();
  const name = site?.name ?? 'A site that was archived';
  const put = (sites: string[]) => void save({ ...trip, sites }).catch(() => undefined);
  const swapped = (to: number) => {
    const sites = [...trip.sites];
    const [one, other] = [sites[at], sites[to]];
    if (one === undefined || other === undefined) return;
    [sites[at], sites[to]] = [other, one];
    put(sites);
  };
  return (
    <View className="pt-5" testID={`stop-${name}`}>
      <Row
        aria-label={`Due at ${name}`}
        disabled={!site}
        onPress={() => {
          if (site) router.push(`/site/${site.id}/due`);
        }}
      >
        <Heading level={2} look="station" className="min-w-0 flex-1">
          {`${at + 1}. ${name}`}
        </Heading>
      </Row>
      {(site?.due ?? []).map((one) => (
        <View
          key={`${one.key} ${one.subject}`}
          className="break-inside-avoid flex-row gap-3 border-b border-rule px-[18px] py-2"
        >
          <TickBox />
          <View className="min-w-0 flex-1">
            <T>{one.what}</T>
            <T look="fact">
              {[whenDue(one) || 'never logged', one.licensed ? 'licensed person' : ''].filter(Boolean).join(' \u00b7 ')}
            </T>
          </View>
        </View>
      ))}
      {mayWrite ? (
        <View className="flex-row flex-wrap gap-3 px-[18px] pt-2 print:hidden">
          <Button label="Earlier" aria-label={`${name}: earlier`} disabled={at === 0} onPress={() => swapped(at - 1)} />
          <Button
            label="Later"
            aria-label={`${name}: later`}
            disabled={at === trip.sites.length - 1}
            onPress={() => swapped(at + 1)}
          />
          <Button
            label="Leave out"
            aria-label={`${name}: leave out`}
            onPress={() => put(trip.sites.filter((_, k) => k !== at))}
          />
        </View>
      ) : null}
    </View>
  );
}
