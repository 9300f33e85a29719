import {
  inUnits,
  lyingOf,
  moduleBox,
  fitSentence,
  roofSentence,
  roofSun,
  shadeSentence,
  tooNear,
  withSystem,
  withUnit,
  wrongIn,
  type Model,
  type Roof,
  type PlacedFault,
  type RoofAnswer,
  type RoofFit,
  type RoofPoint,
} from '@true-lantern/core';
import { router, useGlobalSearchParams } from 'expo-router';
import { useMemo, useState, type ComponentProps, type ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { addRoof, removeRoof, roofsIn, setRoof } from '../data/roofs';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { useWidth } from '../ui/chart';
import { Button, Chip, Plain } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { offerUndo } from '../ui/undo';
import { useAnswer } from '../workers/engine';
import { Lay } from './Lay';
import { ModuleList, ObstacleList, Settings } from './lists';
import { RoofDrawing } from './RoofDrawing';
import { SunHours } from './SunHours';
import { NewRoof } from './Tape';
import { UnderlayCorners, UnderlayPicture, UnderlayTools } from './Underlay';

/** What fits on a roof, what is in the way, what its shade costs: the sentence first, the drawing beneath it. */
export function RoofScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { roof: wanted } = useGlobalSearchParams<{ roof?: string }>();
  const roofs = roofsIn(site);
  const [adding, setAdding] = useState(false);
  const roof = roofs.find(({ id }) => id === wanted) ?? roofs[0] ?? null;
  const make = (body: Partial<Roof>) => {
    const id = addRoof(site, body);
    setAdding(false);
    router.setParams({ roof: id });
  };
  return (
    <View className="flex-1">
      <Top title="Roof" onBack={() => router.navigate(`/site/${site.id}`)} />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[1100px] pb-10">
          {roofs.length > 0 && mayWrite ? (
            <View className="flex-row flex-wrap gap-2 px-[18px] pt-3">
              <View role="radiogroup" aria-label="Which roof" className="flex-row flex-wrap gap-2">
                {roofs.map(({ id, label }, i) => (
                  <Chip
                    key={id}
                    label={label ?? `Roof ${i + 1}`}
                    on={!adding && roof?.id === id}
                    onPress={() => {
                      setAdding(false);
                      router.setParams({ roof: id });
                    }}
                  />
                ))}
              </View>
              <View role="group" aria-label="More">
                <Chip label="New roof" on={adding} onPress={() => setAdding(!adding)} />
              </View>
            </View>
          ) : null}
          {roof && !adding ? <OneRoof key={roof.id} site={site} roof={roof} mayWrite={mayWrite} /> : null}
          {!roof || adding ? (
            mayWrite ? (
              <NewRoof onMake={make} />
            ) : (
              <Plain title="No roof is measured yet." text="An owner or a technician measures it." />
            )
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}

/** What can be moved, tried away for as long as this page is open: nothing is changed by it. */
function TryWithout({
  roof,
  gone,
  onGone,
}: {
  roof: Roof;
  gone: readonly string[];
  onGone(ids: readonly string[]): void;
}) {
  const movable = (roof.obstacles ?? []).filter((one) => one.movable);
  if (movable.length === 0) return null;
  const toggle = (id: string) => onGone(gone.includes(id) ? gone.filter((one) => one !== id) : [...gone, id]);
  return (
    <View className="flex-row flex-wrap items-center gap-2 px-[18px] pt-3">
      <T look="fact">Try without</T>
      {movable.map(({ id, label, kind }) => (
        <Chip key={id} many label={label ?? kind ?? 'obstacle'} on={gone.includes(id)} onPress={() => toggle(id)} />
      ))}
    </View>
  );
}

/** A drawing is at most this high: what it says stands above it on the same screen. */
const HIGHEST = 460;

/** The system with one roof seen without some of its obstacles. */
function seenWithout(found: Model, roof: Roof, gone: readonly string[]): { model: Model; tried: Roof } {
  if (gone.length === 0) return { model: found, tried: roof };
  const tried = { ...roof, obstacles: (roof.obstacles ?? []).filter(({ id }) => !gone.includes(id)) };
  const roofs = (found.system.roofs ?? []).map((one) => (one.id === roof.id ? tried : one));
  return { model: withSystem(found, { ...found.system, roofs }), tried };
}

/** What is known of a roof as it is seen, some obstacles tried away. */
function useSeen(site: OpenSite, roof: Roof) {
  const [gone, setGone] = useState<readonly string[]>([]);
  const { model, tried } = useMemo(() => seenWithout(site.judged, roof, gone), [site.judged, roof, gone]);
  // Asked for before the whole answer: the best so far stands on the screen at once.
  const { data: first } = useAnswer<'firstRoof'>({ ask: 'firstRoof', model, roof: roof.id });
  const { data, error } = useAnswer<'roof'>({ ask: 'roof', model, roof: roof.id });
  const placed = useMemo(() => roof.placed ?? [], [roof]);
  const faults = useMemo(() => {
    const known = placed.every((one) => lyingOf(model.system, one));
    return known ? wrongIn(model, tried, tried.obstacles ?? []).faults : [];
  }, [model, tried, placed]);
  return { gone, setGone, model, tried, first: first ?? null, data: data ?? null, error, placed, faults };
}

interface OneRoofProps {
  site: OpenSite;
  roof: Roof;
  mayWrite: boolean;
}

/** One roof, or while the corners of a photo are put that photo alone. */
function OneRoof({ site, roof, mayWrite }: OneRoofProps) {
  const [photo, setPhoto] = useState(true);
  const [setting, setSetting] = useState<string | null>(null);
  const write = (what: string, set: Partial<Roof>) => offerUndo(what, setRoof(site, roof, set));
  if (setting === null)
    return (
      <WholeRoof
        site={site}
        roof={roof}
        mayWrite={mayWrite}
        photo={photo}
        write={write}
        tools={
          <UnderlayTools site={site} roof={roof} on={photo} onTurn={setPhoto} onCorners={setSetting} write={write} />
        }
      />
    );
  return (
    <UnderlayCorners
      siteId={site.id}
      photo={setting}
      roof={roof}
      onUse={(underlay) => {
        setSetting(null);
        setPhoto(true);
        write('Photo placed under the drawing', { underlay });
      }}
      onLeave={() => setSetting(null)}
    />
  );
}

interface WholeRoofProps extends OneRoofProps {
  photo: boolean;
  write(what: string, set: Partial<Roof>): void;
  /** What puts a photo under the drawing. */
  tools: ReactNode;
}

function WholeRoof({ site, roof, mayWrite, photo, write, tools }: WholeRoofProps) {
  const { gone, setGone, model, tried, first, data, error, placed, faults } = useSeen(site, roof);
  const units = useUnits();
  const [month, setMonth] = useState(11);
  const [hour, setHour] = useState<number | null>(null);
  const [heading, setHeading] = useState(roof.heading_deg ?? 0);
  const [heat, setHeat] = useState(false);
  const sun = useMemo(
    () => (hour === null ? null : roofSun(model, tried, month, hour, heading)),
    [model, tried, month, hour, heading],
  );
  const said = (mm: number) => inUnits(mm, 'mm', units);
  const move = (index: number, [x, y]: RoofPoint) =>
    write(`Module ${index + 1} moved`, { placed: placed.map((one, i) => (i === index ? { ...one, x, y } : one)) });
  return (
    <View>
      <Lead roof={tried} answer={data} first={first?.fit ?? null} trouble={error?.message ?? null} faults={faults} />
      <TryWithout roof={roof} gone={gone} onGone={setGone} />
      <Drawn
        site={site}
        system={model.system}
        roof={tried}
        found={placed.length === 0 ? (data ?? first) : null}
        faults={faults}
        dark={sun?.dark ?? []}
        light={heat ? (data?.shade?.light ?? []) : []}
        photo={photo}
        {...(mayWrite ? { onMove: move } : {})}
      />
      {mayWrite ? tools : null}
      <SunHours
        month={month}
        hour={hour}
        heading={heading}
        turning={roof.heading_deg === null || roof.heading_deg === undefined}
        sun={sun}
        heat={heat}
        heatPossible={Boolean(data?.shade) && placed.length > 0}
        onMonth={setMonth}
        onHour={setHour}
        onHeading={setHeading}
        onHeat={setHeat}
        answer={data}
      />
      {mayWrite && data ? <Lay site={site} model={model} roof={roof} answer={data} write={write} /> : null}
      <ModuleList site={site} roof={roof} faults={faults} mayWrite={mayWrite} said={said} write={write} />
      <ObstacleList roof={roof} mayWrite={mayWrite} said={said} write={write} />
      <View className="px-[18px] pt-4">
        <Button
          label="Print for marking out"
          onPress={() => router.navigate(`/papers/${site.id}/roof/${encodeURIComponent(roof.id)}`)}
        />
      </View>
      <Settings
        site={site}
        roof={roof}
        mayWrite={mayWrite}
        write={write}
        onRemove={() => offerUndo('Roof removed', removeRoof(site, roof))}
      />
    </View>
  );
}

interface DrawnProps extends Pick<
  ComponentProps<typeof RoofDrawing>,
  'system' | 'roof' | 'faults' | 'dark' | 'light' | 'onMove'
> {
  site: OpenSite;
  /** Where modules would lie; null: they lie already. */
  found: Pick<RoofAnswer, 'module' | 'fit'> | null;
  /** A photo under it, where there is one. */
  photo: boolean;
}

/** The roof to scale, as wide as the screen gives it. */
function Drawn({ site, found, photo, ...drawing }: DrawnProps) {
  const units = useUnits();
  const [width, onLayout] = useWidth();
  const { roof } = drawing;
  const { underlay } = roof;
  return (
    <View className="px-[8px] pt-2" onLayout={onLayout}>
      <RoofDrawing
        {...drawing}
        ghosts={ghostsOf(site, found)}
        width={width - 16}
        most={HIGHEST}
        said={(mm) => inUnits(mm, 'mm', units)}
        under={
          underlay && photo
            ? (scale) => <UnderlayPicture siteId={site.id} roof={roof} underlay={underlay} scale={scale} />
            : undefined
        }
      />
    </View>
  );
}

const ghostsOf = ({ model }: OpenSite, found: Pick<RoofAnswer, 'module' | 'fit'> | null) => {
  const type = (model.system.moduleTypes ?? []).find(({ id }) => id === found?.module);
  return type && found ? found.fit.placed.map(({ x, y, turned }) => moduleBox(type, x, y, turned)) : [];
};

interface LeadProps {
  roof: Roof;
  answer: RoofAnswer | null;
  /** The best so far, while everything else is tried. */
  first: RoofFit | null;
  trouble: string | null;
  faults: readonly PlacedFault[];
}

function Lead({ roof, answer, first, trouble, faults }: LeadProps) {
  const units = useUnits();
  const shade = answer ? shadeSentence(answer) : null;
  return (
    <View className="gap-1 px-[18px] pt-4">
      <Heading look="lead" testID="roof-lead" aria-live="polite">
        {answer
          ? roofSentence(roof, answer).replace(/(\d+) mm/g, (_, mm: string) => inUnits(Number(mm), 'mm', units))
          : trouble
            ? 'What fits is not known yet.'
            : first
              ? `${fitSentence(first.count)} Trying every other place ...`
              : 'Trying every place ...'}
      </Heading>
      {trouble ? <T>{trouble}</T> : null}
      {answer ? <T look="fact">{`${withUnit(answer.fit.watts, 'W')} with what fits. ${shade ?? ''}`}</T> : null}
      {answer?.missing ? <T look="fact">{`Shade needs: ${answer.missing.map(missingWords).join(', ')}.`}</T> : null}
      {faults.map((fault, i) => (
        <T key={i} look="head" className="text-second" role="alert">
          {`Module ${fault.index + 1}: ${tooNear(roof, fault)}.`}
        </T>
      ))}
    </View>
  );
}

const MISSING: readonly (readonly [RegExp, string])[] = [
  [/latitude/, 'the latitude of the site'],
  [/globalHorizontal/, 'the sun of each month'],
  [/meanTemp/, 'the temperature of each month'],
  [/heading/, 'which way the roof points'],
];
const missingWords = (path: string) => MISSING.find(([pattern]) => pattern.test(path))?.[1] ?? path;
