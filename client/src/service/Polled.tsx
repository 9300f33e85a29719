import { eachPart, LEAST_EVERY_S, MAP_HEAD, mapText, MODBUS_DEFAULTS, readMap, type Feed } from '@true-lantern/core';
import type { PolledState } from '@true-lantern/wire';
import { useState, type ComponentProps } from 'react';
import { View } from 'react-native';
import { removeDevice, saveDevice } from '../data/devices';
import { useOpenSite } from '../data/open-site';
import { Button, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Heading, T } from '../ui/text';
import { agoText } from './live-said';
import { WORDS } from '../ui/words';

interface PolledProps {
  polled: Record<string, PolledState>;
  /** Whether this server asks devices at all. */
  asks: boolean;
  now: number;
  mayWrite: boolean;
}

/** Devices that the server asks by Modbus TCP: what came of each, and where a new one is written. */
export function Polled({ polled, asks, now, mayWrite }: PolledProps) {
  const site = useOpenSite();
  const devices = site.file.feeds ?? [];
  const [open, setOpen] = useState<string | null>(null);
  const editing = devices.find(({ id }) => id === open) ?? null;
  return (
    <View className="gap-3 px-[18px] pt-8" testID="polled">
      <Heading level={2} look="station">
        Devices the server reads (Modbus TCP)
      </Heading>
      {asks ? null : (
        <T look="fact">
          This server reads no devices yet. Whoever runs it lists them in MODBUS_ALLOW; what you enter here is kept
          until then.
        </T>
      )}
      {devices.map((device) => (
        <DeviceRow
          key={device.id}
          device={device}
          state={polled[device.id] ?? null}
          now={now}
          onOpen={mayWrite ? () => setOpen(open === device.id ? null : device.id) : null}
        />
      ))}
      {mayWrite && (open === NEW || editing) ? (
        <DeviceForm key={open} device={editing} onDone={() => setOpen(null)} />
      ) : mayWrite ? (
        <Button label="Add a device" onPress={() => setOpen(NEW)} />
      ) : null}
    </View>
  );
}

const NEW = '';

interface DeviceRowProps {
  device: Feed;
  state: PolledState | null;
  now: number;
  onOpen: (() => void) | null;
}

function DeviceRow({ device, state, now, onOpen }: DeviceRowProps) {
  const { label, host, port, unit, every_s, map } = device;
  const said =
    state === null
      ? 'not read yet'
      : state.why
        ? `Not heard ${agoText(now - Date.parse(state.asked))} ago: ${state.why}.`
        : `heard ${agoText(now - Date.parse(state.heard ?? state.asked))} ago`;
  return (
    <Row disabled={!onOpen} onPress={() => onOpen?.()} className="border-b border-rule py-2">
      <View className="min-w-0 flex-1">
        <T look="head">{label || host}</T>
        <T look="fact">
          {`${host}:${port ?? MODBUS_DEFAULTS.port}, unit ${unit ?? MODBUS_DEFAULTS.unit}, every ${every_s ?? MODBUS_DEFAULTS.every_s}\u00a0s, ${(map ?? []).length} registers`}
        </T>
        <T look="fact" className={state?.why ? 'font-semi text-ink' : ''}>
          {said}
        </T>
        {state && state.dropped > 0 ? (
          <T look="fact">{`${state.dropped} values dropped: no such system has them. Check type, order and scale.`}</T>
        ) : null}
      </View>
    </Row>
  );
}

function DeviceForm({ device, onDone }: { device: Feed | null; onDone(): void }) {
  const site = useOpenSite();
  const [label, setLabel] = useState(device?.label ?? '');
  const [host, setHost] = useState(device?.host ?? '');
  const [port, setPort] = useState(String(device?.port ?? MODBUS_DEFAULTS.port));
  const [unit, setUnit] = useState(String(device?.unit ?? MODBUS_DEFAULTS.unit));
  const [every, setEvery] = useState(String(device?.every_s ?? MODBUS_DEFAULTS.every_s));
  const [text, setText] = useState(mapText(device?.map ?? []));
  const [tried, setTried] = useState(false);
  const parts = new Set(eachPart(site.model.system).map(({ part }) => part.id));
  const { map, wrong } = readMap(text, parts);
  const faults = faultsOf({ host, port, unit, every }, { map, wrong });
  const shown = (fault: string | undefined) => (tried ? fault : undefined);
  const save = () => {
    setTried(true);
    if (Object.values(faults).some(Boolean)) return;
    saveDevice(
      site,
      {
        label: label.trim(),
        kind: 'modbus-tcp',
        host: host.trim(),
        port: Number(port),
        unit: Number(unit),
        every_s: Number(every),
        map,
      },
      device?.id ?? null,
    );
    onDone();
  };
  return (
    <View className="gap-3 border-l-[5px] border-lamp pl-3" testID="device-form">
      <TextField label="Name" value={label} onChangeText={setLabel} />
      <TextField label="Host" value={host} onChangeText={setHost} autoCapitalize="none" error={shown(faults.host)} />
      <View className="flex-row gap-3">
        <Short label="Port" value={port} onChangeText={setPort} error={shown(faults.port)} />
        <Short label="Unit" value={unit} onChangeText={setUnit} error={shown(faults.unit)} />
        <Short label="Every, s" value={every} onChangeText={setEvery} error={shown(faults.every)} />
      </View>
      <TextField
        label="Registers, one a line (paste the table of the maker’s manual)"
        value={text}
        onChangeText={setText}
        multiline
        numberOfLines={6}
        autoCapitalize="none"
        placeholder="40, 3, u16, big, 0.1, 0, bank, load_V"
        error={shown(faults.map)}
      />
      <T look="fact">
        {`Columns: ${MAP_HEAD}. Registers count from 0. Value = raw x scale + offset. Parts here: ${[...parts].join(', ')}.`}
      </T>
      <View className="flex-row flex-wrap gap-3">
        <Button label="Save device" kind="main" className="grow" onPress={save} />
        <Button label={WORDS.cancel} className="grow" onPress={onDone} />
        {device ? (
          <Button
            label={WORDS.remove}
            kind="plain"
            onPress={() => {
              removeDevice(site, device.id);
              onDone();
            }}
          />
        ) : null}
      </View>
    </View>
  );
}

/** A whole number that stands beside others. */
const Short = (props: ComponentProps<typeof TextField>) => (
  <View className="min-w-0 flex-1">
    <TextField inputMode="numeric" {...props} />
  </View>
);

/** What is wrong with what was typed, by its field. */
function faultsOf(
  { host, port, unit, every }: Record<'host' | 'port' | 'unit' | 'every', string>,
  { map, wrong }: ReturnType<typeof readMap>,
) {
  return {
    host: host.trim() ? undefined : 'Enter the name or address of the device.',
    port: whole(port, 1, 65_535) ? undefined : 'A whole number from 1 to 65535; 502 is usual.',
    unit: whole(unit, 0, 255) ? undefined : 'A whole number from 0 to 255; 1 is usual.',
    every: whole(every, LEAST_EVERY_S, 86_400) ? undefined : `Seconds, from ${LEAST_EVERY_S} on.`,
    map:
      wrong.length > 0
        ? wrong.map(({ line, why }) => `Line ${line} ${why}.`).join(' ')
        : map.length === 0
          ? 'Enter at least one register.'
          : undefined,
  };
}

const whole = (text: string, least: number, most: number) =>
  /^\d{1,6}$/.test(text.trim()) && Number(text) >= least && Number(text) <= most;
