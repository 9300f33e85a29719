/** The terms of the trade that the screens use, each in two sentences: what it is, and how to find or measure it. */

/** A small drawing: which one, and what is marked in it. */
export type TermDrawing =
  | { kind: 'curve'; mark: 'voc' | 'isc' | 'mpp' | 'clip' | 'cold' }
  | { kind: 'stages'; mark: 'absorb' | 'float' | 'equalise' | 'tail' }
  | { kind: 'gauge'; mark: 'charge' | 'depth' | 'cutoff' | 'reconnect' }
  | { kind: 'probes'; mark: 'rest' | 'load' | 'drop' | 'insulation' | 'cell' }
  | { kind: 'clamp'; mark: 'flow' | 'idle' }
  | { kind: 'device'; mark: 'fuse' | 'switch' | 'shunt' | 'bond' | 'precharge' | 'diode' | 'bms' }
  | { kind: 'wave'; mark: 'sine' | 'surge' | 'factor' };

/** A term and its help. */
export interface Term {
  id: string;
  name: string;
  /** What it is. One sentence. */
  is: string;
  /** How to find or measure it. One sentence. */
  find: string;
  drawing: TermDrawing;
  /** Fields, measured quantities and rules that it explains. */
  of: readonly string[];
}

/** @param of what it explains, with blanks between */
const term = (id: string, name: string, is: string, find: string, drawing: TermDrawing, of: string): Term => ({
  id,
  name,
  is,
  find,
  drawing,
  of: of.split(' '),
});

/** The glossary, in the order of a walk from the array to the loads. */
export const GLOSSARY: readonly Term[] = [
  term(
    'voc',
    'Open-circuit voltage (Voc)',
    'The voltage of a module or string with nothing connected; it is highest in the cold.',
    'Read it on the nameplate, or measure across the plugs in daylight with nothing connected.',
    { kind: 'curve', mark: 'voc' },
    'voc_V stringVoc_V pv.cold-voltage maxPv_V maxSystem_V',
  ),
  term(
    'isc',
    'Short-circuit current (Isc)',
    'The current of a module or string with its ends connected together; it follows the light.',
    'Read it on the nameplate, or measure it with a clamp meter through a load-break isolator.',
    { kind: 'curve', mark: 'isc' },
    'isc_A stringIsc_A pv.input-current maxPv_A',
  ),
  term(
    'mpp',
    'Maximum power point (Vmp, Imp)',
    'The voltage and current at which a module delivers most power.',
    'Read both on the nameplate; an MPPT controller shows the values it has found.',
    { kind: 'curve', mark: 'mpp' },
    'vmp_V imp_A stringImp_A arrayVmp_V pv_V pv_A pv.pwm-waste',
  ),
  term(
    'coefficient',
    'Temperature coefficient',
    'How much voltage, current or power changes for each degree of cell temperature.',
    'It is on the data sheet in % per degree; a Voc coefficient has a minus sign.',
    { kind: 'curve', mark: 'cold' },
    'betaVoc_pct_C alphaIsc_pct_C gammaPmax_pct_C',
  ),
  term(
    'clipping',
    'Clipping',
    'The controller is at its output limit and the rest of the solar power is lost.',
    'Compare the array power with the controller rating times the battery voltage.',
    { kind: 'curve', mark: 'clip' },
    'pv.output-current pv.power limitsOutput maxOutput_A',
  ),
  term(
    'series-fuse',
    'Maximum series fuse',
    'The largest fuse that may protect a module against current from other strings.',
    'Read it on the back of the module.',
    { kind: 'device', mark: 'fuse' },
    'maxSeriesFuse_A stringFuse_A pv.string-protection',
  ),
  term(
    'bypass',
    'Bypass diode',
    'A diode that lets current flow around a shaded group of cells.',
    'The junction box on the back holds one for each group, usually three.',
    { kind: 'device', mark: 'diode' },
    'bypassDiodes',
  ),
  term(
    'rest-voltage',
    'Resting voltage',
    'The battery voltage with no charging and no load, after hours of rest.',
    'Isolate everything, wait 4 h (12 h after charging), then measure at the posts.',
    { kind: 'probes', mark: 'rest' },
    'rest_V restVoltage_V blockRest_V',
  ),
  term(
    'load-voltage',
    'Voltage under load',
    'The battery voltage while a known current flows; it falls with resistance and age.',
    'Switch on a large load, wait 10 s, and measure at the posts.',
    { kind: 'probes', mark: 'load' },
    'load_V blockLoad_V minDc_V system.sag',
  ),
  term(
    'internal-resistance',
    'Internal resistance',
    'The resistance inside a battery: it makes the voltage fall under load.',
    'Divide the voltage drop by the current of a 5 to 10 s load.',
    { kind: 'probes', mark: 'load' },
    'internal_mohm resistance_mohm',
  ),
  term(
    'charge-state',
    'State of charge',
    'How full the bank is, in % of its capacity.',
    'A shunt counts it; on lead, resting voltage or specific gravity shows it too.',
    { kind: 'gauge', mark: 'charge' },
    'head_soc startBelow_soc',
  ),
  term(
    'depth',
    'Depth of discharge',
    'How much of the capacity is taken out; deeper discharge means a shorter life.',
    'It is 100 % minus the state of charge.',
    { kind: 'gauge', mark: 'depth' },
    'leadDepth lithiumDepth bank.autonomy',
  ),
  term(
    'rate',
    'Capacity and its rate (C20)',
    'Ampere-hours a battery delivers in a given time; a faster discharge delivers less.',
    'The label says it, for example "100 Ah at C20" for 20 hours.',
    { kind: 'gauge', mark: 'depth' },
    'blockCapacity_Ah rate_h',
  ),
  term(
    'cut-off',
    'Low-voltage cut-off',
    'The voltage at which a device switches off to protect the battery.',
    'Read it in the settings of the inverter, load output or relay.',
    { kind: 'gauge', mark: 'cutoff' },
    'lowCutoff_V settings.cutoff_V cutoff_V lvd_V settings.lvd_V bank.deep-discharge',
  ),
  term(
    'reconnect',
    'Reconnect voltage',
    'The voltage at which a device switches on again; it must be well above the cut-off.',
    'Read it in the settings next to the cut-off.',
    { kind: 'gauge', mark: 'reconnect' },
    'reconnect_V settings.restart_V settings.reconnect_V',
  ),
  term(
    'absorption',
    'Absorption voltage',
    'The voltage at which a charger holds the bank until it is full.',
    'Read it in the charger settings and compare it at the posts during absorption.',
    { kind: 'stages', mark: 'absorb' },
    'settings.absorb_V absorb_V settings settings.absorb_min',
  ),
  term(
    'float',
    'Float voltage',
    'The lower voltage that keeps a full bank full.',
    'Read it in the charger settings.',
    { kind: 'stages', mark: 'float' },
    'settings.float_V',
  ),
  term(
    'equalise',
    'Equalise',
    'A controlled overcharge that makes the cells of a flooded lead bank equal.',
    'Only for flooded lead; set it to off for every other type.',
    { kind: 'stages', mark: 'equalise' },
    'settings.equalise_V settings.equaliseEvery_d',
  ),
  term(
    'tail',
    'Tail current',
    'The small charging current at which the bank counts as full.',
    'Set it in the monitor or charger, usually 2 to 4 % of the capacity.',
    { kind: 'stages', mark: 'tail' },
    'settings.tail_A',
  ),
  term(
    'compensation',
    'Temperature compensation',
    'Lead needs a higher charging voltage when cold and a lower one when warm.',
    'Set it in mV per degree and cell; for lithium it must be 0.',
    { kind: 'stages', mark: 'absorb' },
    'settings.comp_mV_K_cell temperatureSensor',
  ),
  term(
    'gravity',
    'Specific gravity',
    'The density of the acid shows the charge of each flooded cell.',
    'Take it with a hydrometer in every cell and correct it for temperature.',
    { kind: 'probes', mark: 'cell' },
    'density_kg_L fullDensity_kg_L',
  ),
  term(
    'bms',
    'Battery management system',
    'Electronics that watch every lithium cell and disconnect before one is harmed.',
    'The data sheet gives its cell voltages and continuous and peak current.',
    { kind: 'device', mark: 'bms' },
    'protection.cells protection.lowTrip_V_cell protection.highTrip_V_cell cutoff.order lowTemperatureProtection bank.cells',
  ),
  term(
    'breaking',
    'Breaking capacity',
    'The largest fault current a fuse or breaker can interrupt safely.',
    'It is printed on the device or in its data sheet, in kA at a DC voltage.',
    { kind: 'device', mark: 'fuse' },
    'protection.interrupt_A interrupt_A run.interrupt farProtection.interrupt_A',
  ),
  term(
    'fuse',
    'Fuse rating',
    'A fuse protects the cable: it must be above the current and below the cable limit.',
    'Read its amperes, its voltage and "DC" on its body.',
    { kind: 'device', mark: 'fuse' },
    'protection.rating_A run.fuse-protects run.fuse-carries protection.voltage_V protection.fromSource_m run.source-end run.far-fault',
  ),
  term(
    'isolator',
    'Isolator (switch-disconnector)',
    'A switch that disconnects a circuit so that you can work on it.',
    'Check that it is rated for DC at this voltage and current.',
    { kind: 'device', mark: 'switch' },
    'observed.acIsolator switch.rating observed.pvIsolator observed.batteryIsolator runId',
  ),
  term(
    'drop',
    'Voltage drop',
    'The voltage lost in a cable, its joints and its fuse while current flows.',
    'Measure from end to end of each conductor under load, and add both.',
    { kind: 'probes', mark: 'drop' },
    'drop_V run.drop run.charge-sense drop_pct.pv drop_pct.battery drop_pct.dc',
  ),
  term(
    'joint',
    'Joint resistance',
    'The resistance of a lug, plug or busbar joint; a bad joint gets hot.',
    'Measure millivolts across the joint and divide by the current.',
    { kind: 'probes', mark: 'drop' },
    'joint_mohm jointRise_K joints run.joints',
  ),
  term(
    'ampacity',
    'Cable current limit',
    'The current a cable carries without overheating; heat and bundling reduce it.',
    'It follows from size, insulation, air temperature and how many run together.',
    { kind: 'clamp', mark: 'flow' },
    'size run.ampacity insulation_C ambient_C bundled freeAir perPole',
  ),
  term(
    'shunt',
    'Shunt',
    'A precise resistor in the negative that counts all current of the bank.',
    'Its rating is printed on it, for example 500 A / 50 mV.',
    { kind: 'device', mark: 'shunt' },
    'shunt_A monitor.shunt zero_A head_A clamp_A negativeThroughShunt',
  ),
  term(
    'surge',
    'Surge power',
    'The power a motor needs for a moment to start, often three times its running power.',
    'Record it with a clamp meter in peak mode, or use the nameplate.',
    { kind: 'wave', mark: 'surge' },
    'surge_W surge_s start_A inverter.surge peakDischarge_A peak_s',
  ),
  term(
    'power-factor',
    'Power factor',
    'The share of the apparent power (VA) that does work (W).',
    'It is on the nameplate; a plug-in meter shows it.',
    { kind: 'wave', mark: 'factor' },
    'powerFactor continuous_VA inverter.apparent',
  ),
  term(
    'sine',
    'Pure sine wave',
    'The smooth AC of the grid; motors and electronics need it.',
    'Read the inverter data sheet; "modified" or "square" is not pure.',
    { kind: 'wave', mark: 'sine' },
    'waveform needsSine inverter.waveform ac_V ac_Hz',
  ),
  term(
    'idle',
    'Idle draw',
    'What a device uses while it is on and supplies nothing.',
    'Switch it on with nothing connected and clamp its DC lead.',
    { kind: 'clamp', mark: 'idle' },
    'idle_W idle_A selfUse_W inverter.idle idleHours_d',
  ),
  term(
    'parasitic',
    'Parasitic draw',
    'The current that still leaves the bank with everything switched off.',
    'Switch off all loads and the inverter, cover the array, and clamp the battery lead.',
    { kind: 'clamp', mark: 'idle' },
    'parasitic_A energy.layup',
  ),
  term(
    'bond',
    'Neutral bond and RCD',
    'Neutral and earth are joined at exactly one place, so that a residual-current device (RCD) can trip.',
    'A licensed person checks it in each operating mode.',
    { kind: 'device', mark: 'bond' },
    'neutralBond neutralEarth_ohm observed.oneNeutralBond observed.rcdOnSockets',
  ),
  term(
    'insulation',
    'Insulation resistance',
    'How well conductors are separated from the frame; low values mean leakage or moisture.',
    'Isolate the array, join both poles, and test to the frame with an insulation tester.',
    { kind: 'probes', mark: 'insulation' },
    'insulation_Mohm plusFrame_V minusFrame_V frameEarth_ohm',
  ),
  term(
    'pre-charge',
    'Pre-charge',
    'An inverter’s empty capacitors draw thousands of amperes when connected.',
    'Charge them through a resistor first, then close the switch.',
    { kind: 'device', mark: 'precharge' },
    'inverter.precharge',
  ),
];

const BY_SUBJECT = new Map(GLOSSARY.flatMap((one) => one.of.map((subject) => [subject, one] as const)));

/** The term that explains a field, a measured quantity or a rule; null where none is needed. */
export const termFor = (subject: string): Term | null => BY_SUBJECT.get(subject) ?? null;

/** The glossary as a page of the docs. */
export const glossaryPage = (): string =>
  [
    '# Glossary',
    '',
    'The terms that the screens use. In the app each opens under "What is this?", without a signal, with a small drawing.',
    '',
    ...GLOSSARY.flatMap(({ name, is, find }) => [`- **${name}**: ${is} ${find}`]),
    '',
  ].join('\n');
