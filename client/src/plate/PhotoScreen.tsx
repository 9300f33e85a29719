import {
  isPartKind,
  nameOfRow,
  readPlate,
  type PartKind,
  type Plate,
  type PlateField,
  type PlateKind,
} from '@true-lantern/core';
import { router, useGlobalSearchParams } from 'expo-router';
import { useRef, useState } from 'react';
import { Image, ScrollView, View } from 'react-native';
import Svg, { Rect } from 'react-native-svg';
import { addPhoto } from '../data/attachments';
import { fieldSpec } from '../data/fields';
import { chooseFile } from '../data/files';
import { useOpenSite } from '../data/open-site';
import { partName } from '../data/reading';
import { fromPlate } from '../data/plate';
import { rowOfPart, setFields } from '../data/site';
import { storedValue } from '../entry/values';
import { useWidth } from '../kit/chart';
import { Button, Chip, Row } from '../kit/controls';
import { useGround } from '../kit/ground';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { Top } from '../kit/top';
import { offerUndo } from '../kit/undo';
import { withUnit } from '../kit/units';
import { NoPlate, READER_MB, readPhoto, type ReadPhoto } from './read-photo';

const KIND_OF: Readonly<Record<PlateKind, PartKind>> = {
  module: 'moduleTypes',
  controller: 'controllers',
  battery: 'bank',
  inverter: 'inverters',
  charger: 'chargers',
  source: 'sources',
};
const PLATE_OF = Object.fromEntries(Object.entries(KIND_OF).map(([plate, kind]) => [kind, plate])) as Partial<
  Record<PartKind, PlateKind>
>;
const WORDS: Readonly<Record<PlateKind, string>> = {
  module: 'Solar module',
  controller: 'Charge controller',
  battery: 'Battery',
  inverter: 'Inverter',
  charger: 'Charger',
  source: 'Generator',
};

type State =
  | { at: 'begin' }
  | { at: 'reading'; share: number }
  | { at: 'trouble'; says: string }
  | { at: 'read'; photo: ReadPhoto; file: File };

/** A photo of a nameplate: what was read stands on it in boxes, what is sure is taken in one tap, the rest is asked. */
export function PlatePhotoScreen() {
  const site = useOpenSite();
  const { part } = useGlobalSearchParams<{ part?: string }>();
  const row = part ? (rowOfPart(site, part) ?? null) : null;
  const known = row && isPartKind(row.kind) ? PLATE_OF[row.kind] : undefined;
  const [state, setState] = useState<State>({ at: 'begin' });
  const stopper = useRef<AbortController | null>(null);
  const read = async (camera: boolean) => {
    const file = await chooseFile('image/*', camera);
    if (!file) return;
    const stop = new AbortController();
    stopper.current = stop;
    setState({ at: 'reading', share: 0 });
    try {
      const photo = await readPhoto(file, known, (share) => setState({ at: 'reading', share }), stop.signal);
      setState({ at: 'read', photo, file });
    } catch (error) {
      if (stop.signal.aborted) return setState({ at: 'begin' });
      const says =
        error instanceof NoPlate
          ? error.message
          : 'The reader could not be fetched. With a signal, try again: after that it works without one.';
      setState({ at: 'trouble', says });
    }
  };
  const back = () =>
    router.navigate(row ? `/site/${site.id}/part/${encodeURIComponent(nameOfRow(row))}` : `/site/${site.id}/add`);
  return (
    <View className="flex-1">
      <Top title="Photo of a nameplate" onBack={back} />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[860px] gap-4 pb-10 pt-4">
          {state.at === 'reading' ? (
            <View className="gap-3 px-[18px]" role="status">
              <T look="lead">{`Reading ... ${Math.round(100 * state.share)} %`}</T>
              <View className="h-3 bg-well">
                <View className="h-3 bg-ink" style={{ width: `${Math.round(100 * state.share)}%` }} />
              </View>
              <Button label="Stop" onPress={() => stopper.current?.abort()} />
            </View>
          ) : null}
          {state.at === 'trouble' ? (
            <T look="head" role="alert" className="px-[18px]" testID="plate-trouble">
              {state.says}
            </T>
          ) : null}
          {state.at === 'read' ? (
            <Found
              key={state.photo.picture.length}
              photo={state.photo}
              file={state.file}
              known={known ?? null}
              partId={row ? nameOfRow(row) : null}
            />
          ) : null}
          {state.at === 'reading' ? null : (
            <View className="gap-3 px-[18px]">
              {state.at === 'begin' ? (
                <T>
                  Fill the picture with the plate, in even light. It is read on this device and goes nowhere. The reader
                  is {READER_MB} MB, fetched once; after that it works without a signal.
                </T>
              ) : null}
              <Button
                label="Take a photo"
                kind={state.at === 'read' ? 'quiet' : 'main'}
                onPress={() => void read(true)}
              />
              <Button label="Choose a picture" onPress={() => void read(false)} />
            </View>
          )}
        </View>
      </ScrollView>
    </View>
  );
}

interface FoundProps {
  photo: ReadPhoto;
  file: File;
  known: PlateKind | null;
  partId: string | null;
}

function Found({ photo, file, known, partId }: FoundProps) {
  const site = useOpenSite();
  const [kind, setKind] = useState<PlateKind | null>(known ?? readPlate(photo.lines).kind);
  const plate = readPlate(photo.lines, kind ?? undefined);
  const [taken, setTaken] = useState<Readonly<Record<string, boolean>>>({});
  const isTaken = ({ field, sure }: PlateField) => taken[field] ?? sure;
  const chosen = plate.fields.filter(isTaken);
  const sure = plate.fields.filter((one) => one.sure).length;
  const set = Object.fromEntries(chosen.map(({ field, value }) => [field, value]));
  const use = () => {
    const row = partId ? rowOfPart(site, partId) : null;
    if (row && partId) {
      const graded = Object.fromEntries(chosen.map(({ field }) => [`evidence/${field}`, { grade: 'nameplate' }]));
      const before = Object.fromEntries(
        chosen.flatMap(({ field }) => [
          [field, storedValue(row, field)],
          [`evidence/${field}`, row.evidence[field] ?? null],
        ]),
      );
      setFields(site, row, { ...set, ...graded });
      void addPhoto(site, partId, file);
      offerUndo(`${chosen.length} figures taken from the plate`, () => setFields(site, row, before));
      router.navigate(`/site/${site.id}/part/${encodeURIComponent(partId)}`);
      return;
    }
    if (!plate.kind) return;
    fromPlate.set({ kind: KIND_OF[plate.kind], set, photo: file });
    router.navigate(`/site/${site.id}/add?kind=${KIND_OF[plate.kind]}&all=1&plate=1`);
  };
  return (
    <View className="gap-4">
      <Heading look="lead" className="px-[18px]" testID="plate-lead">
        {plate.kind === null
          ? 'No kind of plate was recognised. Which is it?'
          : plate.fields.length === 0
            ? `A ${WORDS[plate.kind].toLowerCase()}, but no figure of it could be read.`
            : `${WORDS[plate.kind]}: ${sure} of ${plate.fields.length} figures are sure.`}
      </Heading>
      <Boxes photo={photo} plate={plate} taken={chosen} />
      {known ? null : (
        <View role="radiogroup" aria-label="What it is" className="flex-row flex-wrap gap-2 px-[18px]">
          {(Object.keys(WORDS) as PlateKind[]).map((one) => (
            <Chip key={one} label={WORDS[one]} on={kind === one} onPress={() => setKind(one)} />
          ))}
        </View>
      )}
      {plate.contradictions.map(({ why }) => (
        <T key={why} look="head" role="alert" className="px-[18px] text-second">
          {why}
        </T>
      ))}
      <View>
        {plate.fields.map((one) => (
          <FieldRow
            key={one.field}
            kind={plate.kind}
            one={one}
            on={isTaken(one)}
            onPress={() => setTaken({ ...taken, [one.field]: !isTaken(one) })}
          />
        ))}
      </View>
      {chosen.length > 0 ? (
        <View className="px-[18px]">
          <Button
            label={`Use ${chosen.length === 1 ? '1 figure' : `${chosen.length} figures`}${partId ? ` for ${partName(site, partId)}` : ''}`}
            kind="main"
            className="min-h-[64px]"
            onPress={use}
          />
        </View>
      ) : null}
    </View>
  );
}

/** As many figures as a plate has: it is held against the plate, digit by digit. */
const EXACT = 7;

interface FieldRowProps {
  kind: PlateKind | null;
  one: PlateField;
  on: boolean;
  onPress(): void;
}

/** A figure with the line that it was read from; unsure ones begin untaken. */
function FieldRow({ kind, one, on, onPress }: FieldRowProps) {
  const spec = kind ? fieldSpec(KIND_OF[kind], one.field) : undefined;
  const value = typeof one.value === 'number' ? withUnit(one.value, spec?.unit ?? unitOf(one.field), EXACT) : one.value;
  return (
    <Row
      role="checkbox"
      aria-checked={on}
      aria-label={`${spec?.label ?? one.field}: ${value}`}
      testID={`plate-${one.field}`}
      onPress={onPress}
    >
      <Mark verdict={on ? 'holds' : 'unknown'} size={22} />
      <View className="min-w-0 flex-1">
        <T look="head">{`${spec?.label ?? one.field}: ${value}`}</T>
        <T look="fact" numberOfLines={1}>
          {`${one.sure ? '' : 'Not sure: check it on the plate. '}Read: ${one.text}`}
        </T>
      </View>
    </Row>
  );
}

/** The unit at the end of a field's name: "maxPv_W.12" is in W. */
const unitOf = (path: string): string => /_(W|V|A|Ah|VA|kW|Hz|kg|mm)(?:\.|$)/.exec(path)?.[1] ?? '';

/** The photo with a box where each figure stood: full where it is taken, broken where it is not. */
function Boxes({ photo, plate, taken }: { photo: ReadPhoto; plate: Plate; taken: readonly PlateField[] }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const scale = width / photo.width;
  const height = photo.height * scale;
  const boxes = plate.fields.flatMap((one) => {
    const line = photo.lines.find(({ text }) => clean(text) === clean(one.text));
    return line ? [{ field: one.field, box: line.box, on: taken.includes(one) }] : [];
  });
  return (
    <View onLayout={onLayout}>
      <View style={{ width, height }}>
        <Image
          source={{ uri: photo.picture }}
          style={{ width, height }}
          accessibilityLabel="The photo, grey and level, as it was read"
        />
        <Svg width={width} height={height} style={{ position: 'absolute', left: 0, top: 0 }} testID="plate-boxes">
          {boxes.map(({ field, box, on }) => (
            <Rect
              key={field}
              x={box.x0 * scale - 3}
              y={box.y0 * scale - 3}
              width={(box.x1 - box.x0) * scale + 6}
              height={(box.y1 - box.y0) * scale + 6}
              fill="none"
              stroke={on ? '#1a1712' : colours.second}
              strokeWidth={2.5}
              {...(on ? {} : { strokeDasharray: '5 4' })}
            />
          ))}
        </Svg>
      </View>
    </View>
  );
}

const clean = (text: string): string => text.normalize('NFKC').replace(/\s+/g, '').toLowerCase();
