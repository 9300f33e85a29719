import {
  keysOf,
  keyOf,
  lowered,
  nameOn,
  readPlate,
  said,
  sentenceOf,
  titleOf,
  turned,
  VERDICT_WORDS,
  type PartRow,
  type PartKind,
  type Plate,
  type PlateField,
  type PlateKind,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { Image, View } from 'react-native';
import Svg, { Rect } from 'react-native-svg';
import { addPhoto } from '../data/attachments';
import { fieldSpec } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { fromPlate } from '../data/plate';
import { partName } from '../data/reading';
import { rowOfPart, setFields, siteWith, type OpenSite } from '../data/site';
import { storedValue } from '../entry/values';
import { useWidth } from '../ui/chart';
import { Button, Chip, Row } from '../ui/controls';
import { useGround } from '../ui/ground';
import { Mark } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { usePretty, withUnit } from '../ui/units';
import { serialOf } from './code';
import type { ReadPhoto } from './read-photo';

/** What becomes of a plate. */
export const KIND_OF: Readonly<Record<PlateKind, PartKind>> = {
  module: 'moduleTypes',
  controller: 'controllers',
  battery: 'bank',
  inverter: 'inverters',
  charger: 'chargers',
  source: 'sources',
};
/** The plate of a part. */
export const PLATE_OF = Object.fromEntries(Object.entries(KIND_OF).map(([plate, kind]) => [kind, plate])) as Partial<
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

interface FoundProps {
  photo: ReadPhoto;
  /** What a code on the plate says. */
  code: string | null;
  file: File;
  known: PlateKind | null;
  partId: string | null;
}

/** What was read, in boxes on the photo and as rows; what is sure is taken in one tap. */
export function Found({ photo, code, file, known, partId }: FoundProps) {
  const site = useOpenSite();
  const [kind, setKind] = useState<PlateKind | null>(known ?? readPlate(photo.lines).kind);
  const plate = readPlate(photo.lines, kind ?? undefined);
  const [taken, setTaken] = useState<Readonly<Record<string, boolean>>>({});
  const isTaken = ({ field, sure }: PlateField) => taken[field] ?? sure;
  const chosen = plate.fields.filter(isTaken);
  const serial = code === null ? null : serialOf(code);
  const [withSerial, setWithSerial] = useState(true);
  const before = partId ? rowOfPart(site, partId) : null;
  const name = before ? null : nameOn(plate);
  const [withName, setWithName] = useState(false);
  const set = {
    ...(name && withName ? { label: name } : {}),
    ...Object.fromEntries(chosen.map(({ field, value }) => [field, value])),
    ...(serial && withSerial ? { notes: noted(before?.body.notes, serial) } : {}),
  };
  const use = () => {
    if (before && partId) {
      onPart(site, before, { chosen, set });
      void addPhoto(site, partId, file);
      router.navigate(`/site/${site.id}/part/${encodeURIComponent(partId)}`);
    } else if (plate.kind) {
      fromPlate.set({ kind: KIND_OF[plate.kind], set, photo: file });
      router.navigate(`/site/${site.id}/add?kind=${KIND_OF[plate.kind]}&all=1&plate=1`);
    }
  };
  return (
    <View className="gap-4">
      <Heading look="lead" className="px-[18px]" testID="plate-lead">
        {leadOf(plate)}
      </Heading>
      <Boxes photo={photo} plate={plate} taken={chosen} />
      {known ? null : (
        <View role="radiogroup" aria-label="What it is" className="flex-row flex-wrap gap-2 px-[18px]">
          {keysOf(WORDS).map((one) => (
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
        {name ? (
          <TakenRow
            says={`Name: ${name}`}
            from="Select it if this is what the part is called."
            on={withName}
            testID="plate-name"
            onPress={() => setWithName(!withName)}
          />
        ) : null}
        {serial ? <SerialRow serial={serial} on={withSerial} onPress={() => setWithSerial(!withSerial)} /> : null}
      </View>
      {before && chosen.length > 0 ? <Becomes site={site} row={before} set={{ ...set, ...gradesOf(chosen) }} /> : null}
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

/** What was read, in a sentence. */
function leadOf({ kind, fields }: Plate): string {
  if (kind === null) return 'No kind of plate was recognised. Which is it?';
  if (fields.length === 0) return `A ${WORDS[kind].toLowerCase()}, but no figure of it could be read.`;
  return `${WORDS[kind]}: ${fields.filter(({ sure }) => sure).length} of ${fields.length} figures are sure.`;
}

/** Figures of a plate written to a part that is there, each as read on its nameplate; one tap takes them back. */
function onPart(
  site: OpenSite,
  row: PartRow,
  { chosen, set }: { chosen: readonly PlateField[]; set: Record<string, unknown> },
): void {
  const was: Record<string, unknown> = {
    ...Object.fromEntries(
      chosen.flatMap(({ field }) => [
        [field, storedValue(row, field)],
        [`evidence/${field}`, row.evidence[field] ?? null],
      ]),
    ),
    ...('notes' in set ? { notes: row.body.notes ?? null } : {}),
  };
  setFields(site, row, { ...set, ...gradesOf(chosen) });
  offerUndo(`${chosen.length} figures taken from the plate`, () => setFields(site, row, was));
}

/** Each figure as read on the nameplate. */
const gradesOf = (chosen: readonly PlateField[]) =>
  Object.fromEntries(chosen.map(({ field }) => [`evidence/${field}`, { grade: 'nameplate' }]));

/** So many verdicts are read before a figure is taken; the others wait on Check. */
const MOST_VERDICTS = 4;

/** What the verdicts would be with the figures that are chosen, before any of them is taken. */
function Becomes({ site, row, set }: { site: OpenSite; row: PartRow; set: Record<string, unknown> }) {
  const pretty = usePretty();
  const after = siteWith(site, row, set);
  const changes = turned(site.findings, after.findings);
  return (
    <View testID="plate-becomes" className="gap-1">
      <Heading level={3} look="head" className="px-[18px]">
        {changes.length === 0
          ? 'No verdict changes.'
          : `${changes.length === 1 ? 'One verdict changes' : `${changes.length} verdicts change`} with these figures.`}
      </Heading>
      {changes.slice(0, MOST_VERDICTS).map(({ finding, was }) => (
        <View key={keyOf(finding)} className="flex-row items-start gap-3 border-b border-rule px-[18px] py-2">
          <Mark verdict={finding.verdict} size={22} />
          <View className="min-w-0 flex-1">
            <T look="head">
              {`${partName(after, finding.subject)}, ${lowered(titleOf(finding))}: ${VERDICT_WORDS[finding.verdict]}`}
            </T>
            <T look="fact">{`${was ? `Was: ${VERDICT_WORDS[was]}. ` : ''}${pretty(sentenceOf(after.judged, finding))}`}</T>
          </View>
        </View>
      ))}
      {changes.length > MOST_VERDICTS ? (
        <T look="fact" className="px-[18px]">
          {`${changes.length - MOST_VERDICTS} more, on Check.`}
        </T>
      ) : null}
    </View>
  );
}

interface TakenProps {
  says: string;
  from: string;
  lines?: number;
  on: boolean;
  testID: string;
  onPress(): void;
}

/** Something that the plate says, with where it was read: taken or not. */
function TakenRow({ says, from, lines, on, testID, onPress }: TakenProps) {
  return (
    <Row role="checkbox" aria-checked={on} aria-label={says} testID={testID} onPress={onPress}>
      <Mark verdict={on ? 'holds' : 'unknown'} size={22} />
      <View className="min-w-0 flex-1">
        <T look="head">{says}</T>
        <T look="fact" numberOfLines={lines}>
          {from}
        </T>
      </View>
    </Row>
  );
}

/** The serial number from the code beside the figures. */
function SerialRow({ serial, ...taken }: Pick<TakenProps, 'on' | 'onPress'> & { serial: string }) {
  return (
    <TakenRow
      says={`Serial number: ${serial}`}
      from="From the code on the plate. It goes into the notes of the part."
      testID="plate-serial"
      {...taken}
    />
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
  const value =
    typeof one.value === 'number' ? withUnit(one.value, spec?.unit ?? unitOf(one.field), EXACT) : said(one.value);
  return (
    <TakenRow
      says={`${spec?.label ?? one.field}: ${value}`}
      from={`${one.sure ? '' : 'Not sure: check it on the plate. '}Read: ${one.text}`}
      lines={1}
      on={on}
      testID={`plate-${one.field}`}
      onPress={onPress}
    />
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

/** The notes of a part with its serial number: said once. */
function noted(notes: unknown, serial: string): string {
  const before = typeof notes === 'string' ? notes.trim() : '';
  const said = `Serial number ${serial}`;
  return before.includes(said) ? before : [before, said].filter(Boolean).join('\n');
}
