import type { InferType } from 'yup';
import { id, name, notes, profiles, settings, terminals } from './common';
import {
  amps,
  celsius,
  flag,
  hours,
  millimetres,
  num,
  oneOf,
  optionalPart,
  part,
  positive,
  requiredPositive,
  text,
  volts,
  watts,
  whole,
} from './fields';
import { inLine, kind } from './kind';
import { asked, first } from './words';

/** Inverters, with or without a charger. */
export const inverters = kind({
  single: false,
  word: 'Inverter',
  noun: 'an inverter',
  stem: 'inverter',
  question: 'Is there an inverter?',
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    continuous_W: asked('Power', requiredPositive(1e6)),
    continuous_VA: asked('Apparent power', positive(1e6)),
    surge_W: first('Surge', watts()),
    surge_s: asked('Surge duration', num(0, 100_000)),
    waveform: first('Waveform', oneOf(['sine', 'modified'])),
    // No inverter runs below the half of a 12 V bank: a nought here is a field that was not filled in.
    lowCutoff_V: asked('Low-voltage cut-off', num(5, 1500)),
    minDc_V: asked('Minimum DC voltage', volts()),
    maxDc_V: asked('Maximum DC voltage', volts()),
    idle_W: asked('Idle draw', watts()),
    idleHours_d: asked('Switched on', hours(), { unit: 'h a day', belongs: 'place' }),
    efficiency_pct: asked('Efficiency', positive(100)),
    ratedAt_C: asked('Rated at', celsius()),
    feeds: asked('Feeds', oneOf(['sockets', 'panel', 'building']), { belongs: 'place' }),
    transfer: asked('Transfer switch', oneOf(['none', 'built-in', 'external']), { passesOn: true }),
    group: asked('Works as one with (group)', text(), { belongs: 'link' }),
    legs: asked('Legs', whole(1, 3), { passesOn: true }),
    inputLimit_A: asked('AC input limited to', amps(), { belongs: 'setting' }),
    assist: asked('Adds power from the bank to a weak input', flag(), { belongs: 'setting' }),
    ac_V: asked('AC voltage', positive(1500)),
    ac_Hz: asked('AC frequency', positive(1000), { unit: 'Hz' }),
    neutralBond: asked('Neutral bond', oneOf(['fixed', 'switched', 'none'])),
    precharge: asked('Pre-charge', flag(), { belongs: 'fitting' }),
    settings: settings('letting go'),
    charger: optionalPart({
      max_A: asked('Built-in charger', amps()),
      efficiency_pct: asked('Charger efficiency', positive(100)),
      powerFactor: asked('Charger power factor', positive(1)),
      profiles: profiles('Charger profiles'),
      settings: settings('charging', ', its charger'),
    }),
    body: optionalPart({
      inBay: asked('Stands in the battery bay', flag(), { belongs: 'place' }),
      length_mm: asked('Inverter length', millimetres()),
      width_mm: asked('Inverter width', millimetres()),
      height_mm: asked('Inverter height', millimetres()),
      air_mm: asked('Free around it', millimetres()),
    }),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ waveform, continuous_W, idle_W }, _, { amount }) =>
    inLine(`${waveform ?? 'wave?'} ${amount(continuous_W, 'W', 5)}`, idle_W ? `idle ${amount(idle_W, 'W')}` : null),
  line: { at: 'draws', run: 'battery-inverter', gap: 'cable to the inverter: size?' },
});
export type Inverter = InferType<typeof inverters.schema>;
