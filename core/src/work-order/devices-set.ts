import { recordOf } from '../parts/objects';
import { settingSheets } from '../bank/charging';
import { partName } from '../conductors/names';
import { figure } from '../ledger/figures';
import { type Model } from '../system/model';
import { MINUTES, type Keys } from './among';
import type { PartWork } from './difference';
import type { Order } from './order';

/** One step for each device that is new, replaced or reset; new cells: all of them. Read back before anything charges. */
export function setDevices(order: Order, model: Model, works: readonly PartWork[], base: Keys): Keys {
  const { system } = model;
  const newCells = works.some(({ kind, replaced, was, fit }) => kind === 'bank' && fit && (replaced || !was));
  const touched = new Map(works.map((work) => [work.id, work]));
  const sheets = settingSheets(system);
  const devices = [...new Set(sheets.map(({ id }) => id))];
  const switched = (system.switches ?? []).filter(({ kind }) => kind === 'load-disconnect').map(({ id }) => id);
  // A counter counts for these cells: what was right for the old ones runs wrong from the first day.
  const counters = system.monitor ? [system.monitor.id] : [];
  const wanted = [...devices, ...switched, ...counters].filter((id) => {
    const work = touched.get(id);
    return newCells || work?.reset || (work?.fit && (work.was === null || work.replaced));
  });
  const lines = works.flatMap(({ was }) => was ?? []);
  return wanted.map((id) => {
    const set = sheets.filter((sheet) => sheet.id === id).flatMap(({ settings }) => settingWords(settings));
    const relay = (system.switches ?? []).find((one) => one.id === id);
    if (id === system.monitor?.id)
      set.push('capacity, charged voltage, tail current, efficiency, Peukert, zero at no current');
    if (relay?.lvd_V) set.push(`cut-off ${figure(relay.lvd_V)} V`);
    if (relay?.reconnect_V) set.push(`reconnect ${figure(relay.reconnect_V)} V`);
    return order.add({
      phase: 'settings',
      act: 'set',
      of: id,
      text: `Set ${partName(model, id)}${set.length > 0 ? `: ${set.join(', ')}` : ' by its settings sheet'}; leave the menu and read everything back.`,
      parts: [id],
      why: newCells
        ? 'the cells are new: the old settings do not suit them'
        : lines.length > 0
          ? 'its settings change, or it is new'
          : 'it is new',
      after: base,
      minutes: MINUTES.set,
    });
  });
}

const SETTINGS: readonly (readonly [string, string, string])[] = [
  ['absorb_V', 'absorb', 'V'],
  ['absorb_min', 'for', 'min'],
  ['tail_A', 'until', 'A'],
  ['float_V', 'float', 'V'],
  ['equalise_V', 'equalise', 'V'],
  ['comp_mV_K_cell', 'compensation', 'mV/K a cell'],
  ['maxCharge_A', 'at most', 'A'],
  ['lowTempCut_C', 'no charge below', 'degC'],
  ['cutoff_V', 'cut-off', 'V'],
  ['restart_V', 'restart', 'V'],
  ['alarm_V', 'alarm', 'V'],
  ['lvd_V', 'loads off at', 'V'],
  ['reconnect_V', 'loads on again at', 'V'],
];

const settingWords = (settings: object | null): string[] =>
  SETTINGS.flatMap(([member, word, unit]) => {
    const value = recordOf(settings)[member];
    if (typeof value !== 'number') return [];
    return [member === 'equalise_V' && value === 0 ? 'equalise off' : `${word} ${figure(value)} ${unit}`];
  });
