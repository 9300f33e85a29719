import {
  counted,
  deviceOfLog,
  eachPart,
  FaultError,
  lowered,
  MOST_OF_A_COLUMN,
  QUANTITIES,
  readAt,
  readingsOfLog,
  type LogMap,
  type Quantity,
} from '@true-lantern/core';
import Papa from 'papaparse';
import { useState } from 'react';
import { View } from 'react-native';
import { chooseTextFile } from '../data/files';
import { useOpenSite } from '../data/open-site';
import { readPreference, writePreference } from '../data/preferences';
import { addReadings } from '../data/readings';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { visitNow } from '../data/visits';
import { Button, Chip } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { nameOf } from './names';
import { WORDS } from '../ui/words';

const MOST_BYTES = 5e6;

interface Log {
  table: string[][];
  commaDecimals: boolean;
  device: string;
}

/** A logger's CSV: what each column is is said once, and known again by its header. */
export function LogImport() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const [log, setLog] = useState<Log | null>(null);
  const [trouble, setTrouble] = useState<string[]>([]);
  if (!mayWrite) return null;
  const choose = async () => {
    setTrouble([]);
    const chosen = await chooseTextFile('.csv,text/csv', MOST_BYTES);
    if (!chosen) return;
    const { text } = chosen;
    if (text.length > MOST_BYTES) return setTrouble(['The file is larger than 5 MB. Choose a shorter log.']);
    const { data, meta } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' });
    if (data.length < 2) return setTrouble(['The file has no data below its header line.']);
    setLog({ table: data, commaDecimals: meta.delimiter === ';', device: deviceOfLog(data[0] ?? []) });
  };
  const take = (map: LogMap) => {
    if (!log) return;
    try {
      const visit = visitNow(site);
      const readings = readingsOfLog(log.table, map, log.commaDecimals).map((reading) => ({
        ...reading,
        ...(visit ? { visit: visit.id } : {}),
      }));
      writePreference('logs', { ...readPreference('logs'), [log.device]: map });
      offerUndo(`${counted(readings.length, 'reading')} imported from the log`, addReadings(site, readings));
      setLog(null);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      setTrouble(error.faults.map(({ path, message }) => `${path}: ${message}`));
    }
  };
  return (
    <View className="gap-2 border-b border-rule px-[18px] py-3" testID="log-import">
      {log ? (
        <Columns key={log.device} site={site} log={log} onTake={take} onClose={() => setLog(null)} />
      ) : (
        <Button label="Readings from a logger (CSV)" onPress={() => void choose()} />
      )}
      {trouble.length > 0 ? (
        <View role="alert" className="gap-1">
          <T look="head">Nothing was imported.</T>
          {trouble.map((line) => (
            <T key={line}>{line}</T>
          ))}
        </View>
      ) : null}
    </View>
  );
}

function Columns({
  site,
  log,
  onTake,
  onClose,
}: {
  site: OpenSite;
  log: Log;
  onTake(map: LogMap): void;
  onClose(): void;
}) {
  const header = log.table[0] ?? [];
  const [map, setMap] = useState<LogMap>(() => {
    const known = readPreference('logs')?.[log.device] as LogMap | undefined;
    return (
      known ?? {
        time: Math.max(
          0,
          header.findIndex((name) => /time|date|zeit/i.test(name)),
        ),
        columns: [],
      }
    );
  });
  const [open, setOpen] = useState<number | null>(null);
  const of = (column: number) => map.columns.find((one) => one.column === column);
  const name = (column: number, subject: string, quantity: Quantity) =>
    setMap({ ...map, columns: [...map.columns.filter((one) => one.column !== column), { column, subject, quantity }] });
  return (
    <View className="gap-2">
      <Heading level={2} look="station">
        What is in each column?
      </Heading>
      <T look="fact">{`Asked once per header. At most ${MOST_OF_A_COLUMN} readings per column are kept, spread over the log.`}</T>
      {header.map((label, column) => {
        const chosen = of(column);
        const time = map.time === column;
        return (
          <View key={column} className="gap-2 border-b border-rule py-2">
            <Button
              label={`${label || `Column ${column + 1}`}: ${time ? 'the time' : chosen ? `${nameOf(site.model, chosen.subject)}, ${lowered(QUANTITIES[chosen.quantity][1])}` : 'left out'}`}
              className="justify-start"
              onPress={() => setOpen(open === column ? null : column)}
            />
            {open === column ? (
              <View className="flex-row flex-wrap gap-2" role="radiogroup" aria-label={`What is ${label}?`}>
                <Chip
                  label="the time"
                  on={time}
                  onPress={() => setMap({ time: column, columns: map.columns.filter((one) => one.column !== column) })}
                />
                <Chip
                  label="left out"
                  on={!time && !chosen}
                  onPress={() => setMap({ ...map, columns: map.columns.filter((one) => one.column !== column) })}
                />
                {readable(site).map(({ subject, quantity, words }) => (
                  <Chip
                    key={words}
                    label={words}
                    on={chosen?.subject === subject && chosen.quantity === quantity}
                    onPress={() => {
                      name(column, subject, quantity);
                      setOpen(null);
                    }}
                  />
                ))}
              </View>
            ) : null}
          </View>
        );
      })}
      <Button label="Import readings" kind="main" disabled={map.columns.length === 0} onPress={() => onTake(map)} />
      <Button label={WORDS.close} kind="plain" className="self-start px-0" onPress={onClose} />
    </View>
  );
}

/** What a logger reads: volts and amperes of what charges, holds and counts. */
const LOGGED: readonly Quantity[] = [
  'rest_V',
  'load_V',
  'temp_C',
  'pv_V',
  'pv_A',
  'out_A',
  'head_A',
  'head_soc',
  'dc_V',
  'running_W',
];
const readable = (site: OpenSite) =>
  eachPart(site.model.system).flatMap(({ part }) =>
    readAt(site.model.system, part.id)
      .filter((quantity) => LOGGED.includes(quantity))
      .map((quantity) => ({
        subject: part.id,
        quantity,
        words: `${nameOf(site.model, part.id)}: ${lowered(QUANTITIES[quantity][1])}`,
      })),
  );
