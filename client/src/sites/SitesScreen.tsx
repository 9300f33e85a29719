import { router } from 'expo-router';
import { useEffect, useRef, useState } from 'react';
import { FlatList, TextInput, View } from 'react-native';
import Upload from 'lucide-react-native/icons/upload';
import { useQuery } from '@tanstack/react-query';
import { getArchived } from '../data/api';
import { useFirm } from '../data/firm';
import { enqueueSite, useMine } from '../data/outbox';
import { useSession, usePerson, useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { archiveSite, catchUp, useSites, type ListedSite } from '../data/site';
import { Button, HeavyRule, Plain, Row, Waiting } from '../ui/controls';
import { TextField } from '../ui/field';
import { GroundSwitch } from '../ui/ground-switch';
import { useKeys } from '../ui/keys';
import { useGround } from '../ui/ground';
import { Lantern } from '../ui/lantern';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { UndoBar } from '../ui/undo';
import { UnsentLine } from '../ui/unsent-line';
import { ImportNote, useImport } from './import';
import { WORDS } from '../ui/words';

/** Once the list has come, and after it has been drawn: it is what the person came for. */
function useCatchUp(list: ReturnType<typeof useSites>['list']) {
  const summaries = useRef(list.data);
  useEffect(() => {
    summaries.current = list.data;
  });
  const come = list.isFetchedAfterMount;
  useEffect(() => {
    if (!come) return;
    let gone = false;
    const timer = setTimeout(() => void catchUp(summaries.current ?? [], () => gone), 300);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [come]);
}

/** All sites of the firm: search, and what each is about in one sentence. */
export function SitesScreen() {
  const { list, sites } = useSites();
  // Fetched here once, so that parts can be picked where there is no signal.
  useShelf();
  useCatchUp(list);
  const [wanted, setWanted] = useState('');
  const field = useRef<TextInput>(null);
  useKeys({ '/': () => field.current?.focus() });
  const shown = sites.filter(({ name }) => name.toLowerCase().includes(wanted.trim().toLowerCase()));
  const head = (
    <View>
      <FirmHead />
      <View className="px-[18px] pb-4">
        <TextField label="Find a site" value={wanted} onChangeText={setWanted} inputMode="search" />
      </View>
      <HeavyRule />
      <UnsentLine />
      {list.isPending ? <Waiting what="Loading the sites ..." /> : null}
      {list.error && !list.data ? (
        <Plain title="The sites could not be loaded." text={list.error.message}>
          <Button label={WORDS.tryAgain} kind="main" onPress={() => void list.refetch()} />
        </Plain>
      ) : null}
      {list.data && shown.length === 0 ? (
        sites.length === 0 ? (
          <FirstRun />
        ) : (
          <View className="px-[18px] py-8">
            <T className="text-soft">{`No site is called "${wanted}".`}</T>
          </View>
        )
      ) : null}
    </View>
  );
  return (
    <View className="flex-1" role="main">
      <FlatList
        className="w-full max-w-[760px] self-center"
        contentContainerStyle={{ paddingBottom: 32 }}
        data={shown}
        keyExtractor={({ id }) => id}
        initialNumToRender={30}
        ListHeaderComponent={head}
        ListFooterComponent={<Foot />}
        renderItem={({ item: { id, name, gist } }) => (
          <Row testID={`site-${name}`} aria-label={name} onPress={() => router.push(`/site/${id}`)} className="py-3">
            <SiteLead name={name} gist={gist} />
          </Row>
        )}
      />
      <UndoBar />
    </View>
  );
}

const FIRST_STEPS: readonly [title: string, says: string][] = [
  ['Name your site', 'Tap New site below, or import a system file.'],
  ['Walk round', 'Answer one question after the other. Skip what you cannot see.'],
  ['Check', 'See what reaches its limit first, and what would fix it.'],
];

/** A firm without a site: how the first one comes about. */
function FirstRun() {
  const mayWrite = useMayWrite();
  if (!mayWrite) return <T className="px-[18px] py-8">No sites yet. An owner or a technician adds the first one.</T>;
  return (
    <View className="gap-4 px-[18px] py-6" testID="first-run">
      <Heading level={2} look="lead">
        Your first site in three steps
      </Heading>
      {FIRST_STEPS.map(([title, says], i) => (
        <View key={title} className="flex-row gap-4">
          <View className="h-[40px] w-[40px] items-center justify-center rounded-full bg-ink">
            <T look="head" className="text-paper">
              {i + 1}
            </T>
          </View>
          <View className="min-w-0 flex-1">
            <T look="station">{title}</T>
            <T>{says}</T>
          </View>
        </View>
      ))}
    </View>
  );
}

function FirmHead() {
  const person = usePerson();
  return (
    <View className="flex-row items-center gap-3 px-[18px] pb-2 pt-5">
      <Lantern />
      <View className="min-w-0 flex-1">
        <Heading look="station" numberOfLines={1}>
          {person.firm.name}
        </Heading>
        <T look="fact" numberOfLines={1}>
          {person.name}
        </T>
      </View>
      <GroundSwitch />
    </View>
  );
}

/** What else there is: new sites, imports, the other pages of the app, the way out. */
function Foot() {
  const mayWrite = useMayWrite();
  const { colours } = useGround();
  const importing = useImport();
  return (
    <View className="gap-3 px-[18px] pt-6">
      <ImportNote state={importing} />
      {mayWrite ? <NewSite /> : null}
      {mayWrite ? (
        <Button
          label="Import a system file"
          icon={<Upload size={20} color={colours.ink} />}
          onPress={importing.choose}
        />
      ) : null}
      <View className="flex-row flex-wrap gap-3">
        <Button label="Due, all sites" className="grow" onPress={() => router.push('/due')} />
        <Button label="Risk of power cuts" className="grow" onPress={() => router.push('/fleet')} />
        <Button label="Quick check" className="grow" onPress={() => router.push('/quick')} />
        <Button label="Shelf" className="grow" onPress={() => router.push('/shelf')} />
        <Button label="Firm and units" className="grow" onPress={() => router.push('/firm')} />
      </View>
      <Archived />
      <Leave />
    </View>
  );
}

/** Signing out with work that is not sent says so: it stays on this device, for this person alone. */
function Leave() {
  const { leave } = useSession();
  const [asked, setAsked] = useState(false);
  const mine = useMine();
  const unsent = mine.length;
  const unkept = mine.some((entry) => entry.unkept);
  if (!asked || unsent === 0)
    return <Button label="Sign out" kind="plain" onPress={() => (unsent > 0 ? setAsked(true) : void leave())} />;
  return (
    <View className="gap-3 border-t border-rule pt-3" role="alert">
      <T>
        {unsent === 1 ? '1 entry is' : `${unsent} entries are`} not sent yet.{' '}
        {unkept
          ? 'This device could not save all of them. What is not saved is lost when you leave.'
          : `${unsent === 1 ? 'It stays' : 'They stay'} on this device and ${unsent === 1 ? 'is' : 'are'} sent when you sign in here again.`}
      </T>
      <View className="flex-row gap-3">
        <Button label="Stay" kind="main" className="flex-1" onPress={() => setAsked(false)} />
        <Button label="Sign out anyway" className="flex-1" onPress={() => void leave()} />
      </View>
    </View>
  );
}

/** Sites that were put away, on demand; taking one back brings it into the list. */
function Archived() {
  const [open, setOpen] = useState(false);
  const mayWrite = useMayWrite();
  const { data, error } = useQuery({ queryKey: ['archived'], queryFn: getArchived, enabled: open, gcTime: 0 });
  if (!open) return <Button label="Archived sites" kind="plain" onPress={() => setOpen(true)} />;
  return (
    <View testID="archived">
      <Heading level={2} look="station">
        Archived
      </Heading>
      {data?.map(({ id, name }) => (
        <View key={id} className="min-h-[64px] flex-row items-center justify-between border-b border-rule">
          <T>{name}</T>
          {mayWrite ? (
            <Button
              label="Restore"
              aria-label={`Restore ${name}`}
              kind="plain"
              onPress={() => {
                archiveSite(id, false);
                setOpen(false);
              }}
            />
          ) : null}
        </View>
      ))}
      {data?.length === 0 ? <T className="text-soft">None.</T> : null}
      {error ? <T className="text-soft">Saved on the server. They will load when you have a signal.</T> : null}
    </View>
  );
}

/** A site begins with a name; everything else can be asked there. */
function NewSite() {
  const [name, setName] = useState<string | null>(null);
  const { firm } = useFirm();
  const begin = () => {
    const title = name?.trim();
    if (title)
      router.push(
        `/site/${enqueueSite({ format: 'true-lantern', version: 1, site: { name: title }, schools: firm?.schools ?? {}, system: {} })}`,
      );
  };
  useKeys({ n: () => setName('') });
  if (name === null) return <Button label="New site" kind="main" onPress={() => setName('')} />;
  return (
    <View className="gap-3">
      <TextField label="Name of the site" value={name} onChangeText={setName} autoFocus onSubmitEditing={begin} />
      <View className="flex-row gap-3">
        <Button label={WORDS.cancel} className="flex-1" onPress={() => setName(null)} />
        <Button label="Begin" kind="main" className="flex-1" disabled={name.trim() === ''} onPress={begin} />
      </View>
    </View>
  );
}

function SiteLead({ name, gist }: Omit<ListedSite, 'id'>) {
  const pretty = usePretty();
  const verdict = gist?.verdict ?? 'none';
  return (
    <>
      {verdict === 'none' ? <View className="w-[26px]" /> : <Mark verdict={verdict === 'note' ? 'holds' : verdict} />}
      <View className="min-w-0 flex-1">
        <T look="station">{name}</T>
        <T look="fact">{gist === null ? 'reading ...' : pretty(gist.sentence)}</T>
      </View>
      {gist && gist.over > 0 ? <T look="head">{gist.over} over</T> : null}
    </>
  );
}
