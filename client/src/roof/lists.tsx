import {
  boundsOf,
  edgeOf,
  gapOf,
  mountOf,
  inUnits,
  partTitle,
  tooNear,
  type Obstacle,
  type PlacedFault,
  type Roof,
} from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { Button, Chip, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Heading, T } from '../ui/text';
import { CornerCut, ObstacleEntry, useLength } from './Tape';
import { WORDS } from '../ui/words';

/** The same roof as lists: another way in than the drawing, for keys, for gloves, for who does not see it. */

type Write = (what: string, set: Partial<Roof>) => void;
const STEP_MM = 10;

interface ModuleListProps {
  site: OpenSite;
  roof: Roof;
  faults: readonly PlacedFault[];
  mayWrite: boolean;
  said(mm: number): string;
  write: Write;
}

/** Each module with its distances to mark out from the corner behind on the left. */
export function ModuleList({ site, roof, faults, mayWrite, said, write }: ModuleListProps) {
  const [open, setOpen] = useState<number | null>(null);
  const placed = roof.placed ?? [];
  const { left, foot } = boundsOf(roof.outline_mm ?? []);
  if (placed.length === 0) return null;
  return (
    <View className="pt-6">
      <Heading level={2} look="station" className="px-[18px] pb-1">
        Modules
      </Heading>
      <T look="fact" className="px-[18px] pb-1">
        Lower left corner of each, from the corner behind on the left.
      </T>
      {placed.map((one, i) => {
        const wrong = faults.filter(({ index }) => index === i);
        const set = (change: Partial<typeof one>) =>
          write(`Module ${i + 1} moved`, {
            placed: placed.map((each, k) => (k === i ? { ...each, ...change } : each)),
          });
        return (
          <View key={i}>
            <Row onPress={() => setOpen(open === i ? null : i)} aria-expanded={open === i} testID={`placed-${i + 1}`}>
              <View className="min-w-0 flex-1">
                <T look="head">{`${i + 1}: ${said(one.x - left)} right, ${said(one.y - foot)} ahead`}</T>
                <T look="fact">
                  {`${partTitle(site.model.system, one.arrayId) ?? 'an array'}, string ${(one.string ?? 0) + 1}, module ${(one.index ?? 0) + 1}${one.turned ? ', turned' : ''}`}
                </T>
                {wrong.map((fault, k) => (
                  <T key={k} look="fact" className="text-second">
                    {tooNear(roof, fault)}
                  </T>
                ))}
              </View>
            </Row>
            {open === i && mayWrite ? (
              <View className="gap-2 bg-well px-[18px] py-3">
                <View role="group" aria-label={`Move module ${i + 1}`} className="flex-row flex-wrap gap-2">
                  <Button
                    label={'\u2190 1 cm'}
                    aria-label="Left"
                    className="grow"
                    onPress={() => set({ x: one.x - STEP_MM })}
                  />
                  <Button
                    label={'1 cm \u2192'}
                    aria-label="Right"
                    className="grow"
                    onPress={() => set({ x: one.x + STEP_MM })}
                  />
                  <Button
                    label={'\u2191 1 cm'}
                    aria-label="Ahead"
                    className="grow"
                    onPress={() => set({ y: one.y + STEP_MM })}
                  />
                  <Button
                    label={'\u2193 1 cm'}
                    aria-label="Behind"
                    className="grow"
                    onPress={() => set({ y: one.y - STEP_MM })}
                  />
                  <Chip label="Turn" on={one.turned ?? false} onPress={() => set({ turned: !one.turned })} />
                </View>
                <Button
                  label="Take it off the roof"
                  onPress={() => {
                    setOpen(null);
                    write(`Module ${i + 1} taken off`, { placed: placed.filter((_, k) => k !== i) });
                  }}
                />
              </View>
            ) : null}
          </View>
        );
      })}
    </View>
  );
}

interface ObstacleListProps {
  roof: Roof;
  mayWrite: boolean;
  said(mm: number): string;
  write: Write;
}

/** What stands on the roof or beside it. */
export function ObstacleList({ roof, mayWrite, said, write }: ObstacleListProps) {
  const [open, setOpen] = useState<string | null>(null);
  const obstacles = roof.obstacles ?? [];
  const free = (n = 1): string => (obstacles.some(({ id }) => id === `o${n}`) ? free(n + 1) : `o${n}`);
  const put = (obstacle: Obstacle) => {
    const known = obstacles.some(({ id }) => id === obstacle.id);
    write(`${obstacle.label ?? obstacle.kind} ${known ? 'changed' : 'added'}`, {
      obstacles: known ? obstacles.map((one) => (one.id === obstacle.id ? obstacle : one)) : [...obstacles, obstacle],
    });
    setOpen(null);
  };
  return (
    <View className="pt-6">
      <Heading level={2} look="station" className="px-[18px] pb-1">
        What stands on it
      </Heading>
      {obstacles.map((one) => (
        <View key={one.id}>
          <Row
            onPress={() => setOpen(open === one.id ? null : one.id)}
            aria-expanded={open === one.id}
            testID={`obstacle-${one.id}`}
          >
            <View className="min-w-0 flex-1">
              <T look="head">{one.label ?? one.kind}</T>
              <T look="fact">
                {[`${said(one.height_mm ?? 0)} high`, one.movable ? 'could be moved' : '']
                  .filter(Boolean)
                  .join(' \u00b7 ')}
              </T>
            </View>
          </Row>
          {open === one.id && mayWrite ? (
            <View>
              <ObstacleEntry before={one} id={one.id} onSave={put} />
              <View className="bg-well px-[18px] pb-4">
                <Button
                  label="Take it out"
                  onPress={() => {
                    setOpen(null);
                    write(`${one.label ?? one.kind} taken out`, {
                      obstacles: obstacles.filter(({ id }) => id !== one.id),
                    });
                  }}
                />
              </View>
            </View>
          ) : null}
        </View>
      ))}
      {mayWrite ? (
        <View className="px-[18px] pt-3">
          <Button
            label={open === 'new' ? WORDS.cancel : 'Add a vent, hatch, aerial ...'}
            onPress={() => setOpen(open === 'new' ? null : 'new')}
          />
        </View>
      ) : null}
      {open === 'new' ? <ObstacleEntry before={null} id={free()} onSave={put} /> : null}
    </View>
  );
}

interface SettingsProps {
  site: OpenSite;
  roof: Roof;
  mayWrite: boolean;
  write: Write;
  onRemove(): void;
}

/** Which way it points, its tilt, distances, corners. */
export function Settings({ roof, mayWrite, write, onRemove }: SettingsProps) {
  const [open, setOpen] = useState<'corner' | 'more' | null>(null);
  if (!mayWrite) return null;
  return (
    <View className="gap-3 px-[18px] pt-7">
      <View className="flex-row flex-wrap gap-3">
        <Button label="Cut a corner" className="grow" onPress={() => setOpen(open === 'corner' ? null : 'corner')} />
        <Button
          label="Direction, tilt, distances"
          className="grow"
          onPress={() => setOpen(open === 'more' ? null : 'more')}
        />
        <Button label="Remove this roof" className="grow" onPress={onRemove} />
      </View>
      {open === 'corner' ? (
        <CornerCut
          roof={roof}
          onCut={(outline_mm) => {
            write('Corner cut', { outline_mm });
            setOpen(null);
          }}
        />
      ) : null}
      {open === 'more' ? <More roof={roof} write={write} /> : null}
    </View>
  );
}

const LENGTHS = [
  ['edge_mm', 'Distance to the edge, mm', edgeOf],
  ['gap_mm', 'Gap between modules, mm', gapOf],
  ['mount_mm', 'Underside of the modules above the roof, mm', mountOf],
] as const;

function More({ roof, write }: { roof: Roof; write: Write }) {
  const units = useUnits();
  const length = useLength();
  const [heading, setHeading] = useState(String(roof.heading_deg ?? ''));
  const [tilt, setTilt] = useState(String(roof.tilt_deg ?? ''));
  const [lengths, setLengths] = useState<Record<string, string>>(
    Object.fromEntries(LENGTHS.map(([key, , of]) => [key, String(of(roof))])),
  );
  const degrees = (text: string, most: number) => {
    const value = Number(text.replace(',', '.'));
    return text.trim() !== '' && Number.isFinite(value) && value >= 0 && value <= most ? value : null;
  };
  const bad = LENGTHS.some(([key]) => length(lengths[key] ?? '') === undefined);
  return (
    <View className="gap-3 bg-well px-[18px] py-4">
      <TextField
        label="Ahead points to, degrees from north"
        value={heading}
        onChangeText={setHeading}
        inputMode="decimal"
      />
      <TextField
        label="Tilt, degrees (ahead is up the slope)"
        value={tilt}
        onChangeText={setTilt}
        inputMode="decimal"
      />
      {LENGTHS.map(([key, label]) => (
        <TextField
          key={key}
          label={label}
          value={lengths[key] ?? ''}
          onChangeText={(text) => setLengths({ ...lengths, [key]: text })}
          inputMode="decimal"
        />
      ))}
      <View role="group" aria-label="Parking">
        <Chip
          label="Always parked this way"
          on={roof.parked ?? false}
          onPress={() => write(roof.parked ? 'Parked anywhere' : 'Always parked this way', { parked: !roof.parked })}
        />
      </View>
      {bad ? <T role="alert">{`That is not a length. Write it like ${inUnits(100, 'mm', units)}.`}</T> : null}
      <Button
        label={WORDS.save}
        kind="main"
        disabled={bad}
        onPress={() =>
          write('Roof changed', {
            heading_deg: degrees(heading, 360),
            tilt_deg: degrees(tilt, 75),
            ...Object.fromEntries(LENGTHS.map(([key]) => [key, length(lengths[key] ?? '')])),
          })
        }
      />
    </View>
  );
}
