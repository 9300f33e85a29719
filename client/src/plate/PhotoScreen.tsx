import { isPartKind, nameOfRow, type Corners, type PlateKind } from '@true-lantern/core';
import { router, useGlobalSearchParams } from 'expo-router';
import { useRef, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { chooseFiles } from '../data/files';
import { useOpenSite } from '../data/open-site';
import { platesWaiting } from '../data/plate';
import { rowOfPart } from '../data/site';
import { Button } from '../ui/controls';
import { CornersSheet } from '../ui/corners';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { Found, PLATE_OF } from './Found';
import { isNoPlate } from './canvas';
import type { OpenPhoto } from './picture-work';
import { openPhoto, READER_MB, readPhoto, type ReadPhoto } from './read-photo';
import { WORDS } from '../ui/words';

type State =
  | { at: 'begin' }
  | { at: 'reading'; share: number }
  | { at: 'trouble'; says: string }
  | { at: 'corners'; opened: OpenPhoto; file: File; picture: string; begin: Corners | null; before: State }
  | { at: 'read'; photo: ReadPhoto; opened: OpenPhoto; corners: Corners | null; file: File };

/** Reads one photo after another: what is being done with which, and how to go on. */
function useReading(known: PlateKind | undefined, isOne: boolean) {
  const [state, setState] = useState<State>({ at: 'begin' });
  const stopper = useRef<AbortController | null>(null);
  const waiting = platesWaiting.useValue();
  const reading = async (act: (stop: AbortSignal, tell: (share: number) => void) => Promise<State>) => {
    const stop = new AbortController();
    stopper.current = stop;
    setState({ at: 'reading', share: 0 });
    try {
      setState(await act(stop.signal, (share) => setState({ at: 'reading', share })));
    } catch (error) {
      if (stop.signal.aborted) return setState({ at: 'begin' });
      const says = isNoPlate(error)
        ? error.message
        : 'The reader could not be fetched. With a signal, try again: after that it works without one.';
      setState({ at: 'trouble', says });
    }
  };
  const read = (file: File, opened?: OpenPhoto, corners?: Corners) =>
    reading(async (stop, tell) => {
      const open = opened ?? (await openPhoto(file, stop));
      const within = corners ?? open.found;
      return {
        at: 'read',
        photo: await readPhoto(open, within, known, tell, stop),
        opened: open,
        corners: within,
        file,
      };
    });
  return {
    state,
    setState,
    read,
    left: waiting,
    stop: () => stopper.current?.abort(),
    choose: async (camera: boolean) => {
      const [first, ...more] = await chooseFiles('image/*', { camera, many: !camera && !isOne });
      if (!first) return;
      platesWaiting.set({ files: more, of: more.length + 1 });
      await read(first);
    },
    next: () => {
      const [first, ...more] = waiting.files;
      if (!first) return;
      platesWaiting.set({ ...waiting, files: more });
      void read(first);
    },
  };
}

/** A photo of a nameplate: what was read stands on it in boxes, what is sure is taken in one tap, the rest is asked. */
export function PlatePhotoScreen() {
  const site = useOpenSite();
  const { part } = useGlobalSearchParams<{ part?: string }>();
  const row = part ? (rowOfPart(site, part) ?? null) : null;
  const known = row && isPartKind(row.kind) ? PLATE_OF[row.kind] : undefined;
  const reading = useReading(known, row !== null);
  const { state, setState } = reading;
  const back = () =>
    router.navigate(row ? `/site/${site.id}/part/${encodeURIComponent(nameOfRow(row))}` : `/site/${site.id}/add`);
  return (
    <View className="flex-1">
      <Top title="Photo of a nameplate" onBack={back} />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[860px] gap-4 pb-10 pt-4">
          {state.at === 'reading' ? <Progress share={state.share} onStop={reading.stop} /> : null}
          {state.at === 'trouble' ? (
            <T look="head" role="alert" className="px-[18px]" testID="plate-trouble">
              {state.says}
            </T>
          ) : null}
          {state.at === 'read' ? (
            <Found
              key={state.photo.picture.length}
              photo={state.photo}
              code={state.opened.code}
              file={state.file}
              known={known ?? null}
              partId={row ? nameOfRow(row) : null}
            />
          ) : null}
          {state.at === 'corners' ? (
            <CornersSheet
              picture={state.picture}
              width={state.opened.grey.width}
              height={state.opened.grey.height}
              begin={state.begin}
              what="the plate"
              use="Read the plate"
              onUse={(corners) => void reading.read(state.file, state.opened, corners)}
              onLeave={() => setState(state.before)}
            />
          ) : null}
          {state.at === 'reading' || state.at === 'corners' ? null : <Ways reading={reading} isOne={row !== null} />}
        </View>
      </ScrollView>
    </View>
  );
}

function Progress({ share, onStop }: { share: number; onStop(): void }) {
  const pct = Math.round(100 * share);
  return (
    <View className="gap-3 px-[18px]" role="status">
      <T look="lead">{`Reading ... ${pct} %`}</T>
      <View className="h-3 bg-well">
        <View className="h-3 bg-ink" style={{ width: `${pct}%` }} />
      </View>
      <Button label={WORDS.stop} onPress={onStop} />
    </View>
  );
}

/** How to go on: other corners, the next of several, another picture. */
function Ways({ reading, isOne }: { reading: ReturnType<typeof useReading>; isOne: boolean }) {
  const { state, setState, left } = reading;
  const isRead = state.at === 'read';
  const corners = () =>
    isRead &&
    setState({
      at: 'corners',
      opened: state.opened,
      file: state.file,
      picture: state.opened.picture,
      begin: state.corners,
      before: state,
    });
  return (
    <View className="gap-3 px-[18px]">
      {isRead ? <Button label="Set the four corners" onPress={corners} /> : null}
      {left.files.length > 0 ? (
        <>
          <T look="fact">{`${left.files.length} of ${left.of} plates still to be read.`}</T>
          <Button
            label={isRead ? 'Skip to the next plate' : 'Read the next plate'}
            kind={isRead ? 'quiet' : 'main'}
            onPress={reading.next}
          />
        </>
      ) : null}
      {state.at === 'begin' ? (
        <T>
          Fill the picture with the plate, in even light. It is read on this device and goes nowhere. The reader is{' '}
          {READER_MB} MB, fetched once; after that it works without a signal.
        </T>
      ) : null}
      <Button
        label="Take a photo"
        kind={isRead || left.files.length > 0 ? 'quiet' : 'main'}
        onPress={() => void reading.choose(true)}
      />
      <Button label={isOne ? 'Choose a picture' : 'Choose pictures'} onPress={() => void reading.choose(false)} />
    </View>
  );
}
