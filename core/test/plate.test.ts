import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { nameOn } from '../src/plate/name';
import { kindOf, readPlate, type Plate } from '../src/plate/plate';
import { firstReading, leftOut } from '../src/plate/picture';
import { figuresIn } from '../src/plate/quantities';
import { mendedWords } from '../src/plate/words';
import { judged, strangePlate } from './strange-plates';

const folder = join(__dirname, '../../docs/format/reference/plates');
const read = (text: string, kind?: Parameters<typeof readPlate>[1]): Plate =>
  readPlate(
    text.split('\n').map((line) => ({ text: line })),
    kind,
  );
const values = (plate: Plate) => Object.fromEntries(plate.fields.map(({ field, value }) => [field, value]));
const unsure = (plate: Plate) => plate.fields.flatMap(({ field, sure }) => (sure ? [] : [field]));

describe('the reference\u2019s own plates', () => {
  const truth = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as Record<
    string,
    { kind: string; fields: Record<string, unknown> }
  >;
  test.each(Object.keys(truth))('%s: every field, and none besides', (name) => {
    const plate = read(readFileSync(join(folder, `${name}.txt`), 'utf8'));
    expect(plate.kind).toBe(truth[name]!.kind);
    expect(values(plate)).toEqual(truth[name]!.fields);
    expect(unsure(plate)).toEqual([]);
  });
});

describe('figures with their units', () => {
  test.each([
    ['38,43 V', 38.43, 'V'],
    ['1,500 W', 1500, 'W'],
    ['1.500,5 W', 1500.5, 'W'],
    ['0,500 A', 0.5, 'A'],
    ['2.56kWh', 2560, 'Wh'],
    ['100Ah', 100, 'Ah'],
    ['1,2 kW', 1200, 'W'],
    ['370 Wp', 370, 'W'],
    ['1.722 m', 1722, 'mm'],
    ['-0.28 %/\u00b0C', -0.28, 'pct_C'],
    ['2000VA', 2000, 'VA'],
    ['12Vdc', 12, 'V'],
  ])('%s', (text, value, measure) => {
    expect(figuresIn(text)[0]).toMatchObject({ value, measure, mended: false });
  });
  test('letters between digits are digits, and are asked about', () => {
    expect(figuresIn('4O.5 V')[0]).toMatchObject({ value: 40.5, mended: true });
    expect(figuresIn('l2.8V')[0]).toMatchObject({ value: 12.8, mended: true });
    expect(figuresIn('3B.4 V')[0]).toMatchObject({ value: 38.4, mended: true });
    // A unit or a word is no digit.
    expect(figuresIn('SB 100')).toMatchObject([{ value: 100, mended: false }]);
  });
  test('a range is one figure with two ends', () => {
    expect(figuresIn('DC input 10.5-15.5V')).toMatchObject([{ value: 10.5, to: 15.5, measure: 'V' }]);
    expect(figuresIn('18 to 32 V')).toMatchObject([{ value: 18, to: 32, measure: 'V' }]);
  });
});

describe('modules in five languages', () => {
  test.each([
    [
      'German',
      'Solarmodul\nNennleistung (Pmpp) 200 Wp\nLeerlaufspannung 24,3 V\nKurzschlussstrom 10,41 A\nUmpp 20,4 V\nImpp 9,80 A\nMax. Systemspannung 1000 V\nStrangsicherung 20 A',
    ],
    [
      'French',
      'Module photovoltaique\nPuissance maximale 200 W\nTension \u00e0 vide 24,3 V\nCourant de court-circuit 10,41 A\nTension \u00e0 Pmax 20,4 V\nCourant \u00e0 Pmax 9,80 A\nTension maximale du syst\u00e8me 1000 V\nFusible 20 A',
    ],
    [
      'Spanish',
      'M\u00f3dulo fotovoltaico\nPotencia m\u00e1xima 200 W\nTensi\u00f3n de circuito abierto 24,3 V\nCorriente de cortocircuito 10,41 A\nTensi\u00f3n a potencia m\u00e1xima 20,4 V\nCorriente a potencia m\u00e1xima 9,80 A\nTensi\u00f3n m\u00e1xima del sistema 1000 V\nFusible 20 A',
    ],
    [
      'Italian',
      'Modulo fotovoltaico\nPotenza massima 200 W\nTensione a vuoto 24,3 V\nCorrente di corto circuito 10,41 A\nTensione alla massima potenza 20,4 V\nCorrente alla massima potenza 9,80 A\nTensione massima di sistema 1000 V\nFusibile 20 A',
    ],
    [
      'short, all in one line',
      'Pmax 200W Voc 24.3V Isc 10.41A Vpm 20.4V Ipm 9.80A Max. system voltage 1000V Series fuse 20A STC',
    ],
    [
      'units in brackets',
      'PV module STC\nPmax (W) 200\nVoc (V) 24.3\nIsc (A) 10.41\nVmp (V) 20.4\nImp (A) 9.80\nMax system voltage (V) 1000\nMax series fuse (A) 20',
    ],
  ])('%s', (_, text) => {
    const plate = read(text);
    expect(plate.kind).toBe('module');
    expect(values(plate)).toEqual({
      pmax_W: 200,
      voc_V: 24.3,
      isc_A: 10.41,
      vmp_V: 20.4,
      imp_A: 9.8,
      maxSystem_V: 1000,
      maxSeriesFuse_A: 20,
    });
    expect(plate.contradictions).toEqual([]);
    expect(unsure(plate)).toEqual([]);
  });
});

test('six hundred strange plates in five languages: every figure, none wrong, and the kind', () => {
  const seeds = Array.from({ length: 600 }, (_, i) => 1000 + i);
  const results = seeds.map((seed) => {
    const truth = strangePlate(seed);
    return judged(truth, readPlate(truth.lines.map((text) => ({ text }))));
  });
  const sum = (of: (one: (typeof results)[number]) => number) => results.reduce((total, one) => total + of(one), 0);
  expect(sum(({ right }) => right) / sum(({ of }) => of)).toBeGreaterThan(0.995);
  expect(results.flatMap(({ wrongAndSure }) => wrongAndSure)).toEqual([]);
  expect(results.filter(({ kind }) => !kind)).toHaveLength(0);
});

describe('what a photo is trusted with', () => {
  const photo = (...lines: [text: string, confidence: number][]) =>
    readPlate(
      lines.map(([text, confidence]) => ({ text, confidence })),
      'module',
    );
  test('a figure that is not sold is asked about; typed, it is what it says', () => {
    expect(unsure(photo(['Max. system voltage 1006 V', 96]))).toEqual(['maxSystem_V']);
    expect(unsure(photo(['Max. system voltage 1000 V', 96]))).toEqual([]);
    expect(unsure(read('Max. system voltage 1006 V', 'module'))).toEqual([]);
  });
  test('words that were read with doubt are asked about', () => {
    expect(unsure(photo(['Voc 24.3 V', 86]))).toEqual(['voc_V']);
    expect(unsure(photo(['Voc 24.3 V', 88]))).toEqual([]);
  });
  test('a module of 300 W that weighs a kilogram has lost a digit', () => {
    expect(read('Pmax 300 W\nWeight 1 kg', 'module').contradictions[0]!.fields).toEqual(['mass_kg']);
    expect(read('Pmax 300 W\nWeight 17 kg', 'module').contradictions).toEqual([]);
    expect(read('Pmax 100 W\nWeight 1.9 kg', 'module').contradictions).toEqual([]);
  });
  test('a label that names another unit is of another figure', () => {
    expect(values(read('MPPT charge controller\nPV input max. (V) 75'))).toEqual({ type: 'mppt', maxPv_V: 75 });
  });
});

describe('other kinds', () => {
  test.each([
    [
      'Charge controller PWM 20A\n12V/24V auto\nMax. PV voltage 50V\nRated charge current 20A\n260W/12V 520W/24V',
      'controller',
      { type: 'pwm', maxPv_V: 50, maxOutput_A: 20, 'maxPv_W.12': 260, 'maxPv_W.24': 520 },
    ],
    [
      'Deep cycle AGM battery\n12V 100Ah/20hr\nMax. initial charging current 30A\nCycle use 14.4-15.0V  Standby 13.5-13.8V',
      'battery',
      { chemistry: 'agm', block_V: 12, blockCapacity_Ah: 100, rate_h: 20, maxCharge_A: 30 },
    ],
    [
      'Pure sine inverter\nContinuous power 2000 W\nSurge 4000 W\nDC input 10.5-15.5V\nAC output 230V 50Hz',
      'inverter',
      { waveform: 'sine', continuous_W: 2000, surge_W: 4000, minDc_V: 10.5, maxDc_V: 15.5, ac_V: 230, ac_Hz: 50 },
    ],
    ['DC-DC charger\nInput 11-16V\nOutput 12V 30A', 'charger', { kind: 'dc-dc', max_A: 30, output_V: 12 }],
    ['Generator\nRated power 2.0 kW\n230V 50Hz', 'source', { power_W: 2000, ac_V: 230 }],
  ])('%s', (text, kind, fields) => {
    const plate = read(text);
    expect(plate.kind).toBe(kind);
    expect(values(plate)).toEqual(fields);
  });
  test('a menu, or nothing, is no plate', () => {
    expect(kindOf(['Soup of the day 4.50', 'Fish and chips 12.80'])).toBeNull();
    expect(read('')).toEqual({ kind: null, lines: [], fields: [], contradictions: [] });
  });
  test('a kind that is known overrules what the words say', () => {
    expect(read('12V 100Ah', 'battery').fields.map(({ field }) => field)).toContain('blockCapacity_Ah');
  });
});

describe('what cannot be is asked about', () => {
  const module = (p: number, voc: number, vmp: number, isc: number, imp: number) =>
    read(`PV module STC\nPmax ${p} W\nVoc ${voc} V\nIsc ${isc} A\nVmp ${vmp} V\nImp ${imp} A`);
  test('watts against volts times amperes, beyond six in a hundred', () => {
    expect(module(200, 24.3, 20.4, 10.41, 9.8).contradictions).toEqual([]);
    expect(module(210, 24.3, 20.4, 10.41, 9.8).contradictions).toEqual([]);
    const wrong = module(220, 24.3, 20.4, 10.41, 9.8);
    expect(wrong.contradictions.map(({ fields }) => fields)).toEqual([['pmax_W', 'vmp_V', 'imp_A']]);
    expect(unsure(wrong)).toEqual(['pmax_W', 'vmp_V', 'imp_A']);
  });
  test('Vmp not below Voc, Imp not below Isc', () => {
    expect(unsure(module(246, 24.3, 25.1, 10.41, 9.8))).toEqual(expect.arrayContaining(['voc_V', 'vmp_V']));
    expect(unsure(module(214, 24.3, 20.4, 10.41, 10.5))).toEqual(expect.arrayContaining(['isc_A', 'imp_A']));
  });
  test('watt-hours against volts times ampere-hours', () => {
    expect(read('LiFePO4 battery\n12.8V 100Ah 1280Wh').contradictions).toEqual([]);
    expect(read('LiFePO4 battery\n12.8V 100Ah 1500Wh').contradictions).toHaveLength(1);
  });
  test('a word that the reader of pictures was not sure of', () => {
    const plate = readPlate([
      { text: 'PV module STC', confidence: 95 },
      { text: 'Voc 24.3 V', confidence: 60 },
      { text: 'Isc 10.41 A', confidence: 92 },
    ]);
    expect(unsure(plate)).toEqual(['voc_V']);
  });
});

test('whatever is printed, nothing is read that is no number, and no line breaks the reader', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ maxLength: 60 }), { maxLength: 12 }), (lines) => {
      for (const { value } of read(lines.join('\n'), 'module').fields)
        expect(typeof value === 'string' || Number.isFinite(value)).toBe(true);
    }),
  );
});

describe('what a photo’s reader gets wrong', () => {
  const photo = (text: string, confidence = 95): Plate =>
    readPlate(text.split('\n').map((line) => ({ text: line, confidence })));
  test('a letter wrong in a label is put right, and the line is told as it was read', () => {
    const plate = photo(
      'Médulo fotovoltaico\nTensién de circuito abierto : 46,51V\nTensidn maxima del sistema : 600Vdc',
    );
    expect(values(plate)).toEqual({ voc_V: 46.51, maxSystem_V: 600 });
    expect(plate.fields[0]!.text).toMatch(/^Tensi/);
    expect(values(photo('Module solaire\nPuissance créte - 210 Wp'))).toEqual({ pmax_W: 210 });
    expect(values(photo('Module\nSTC\nPUISSANCE NOM!INALE (Wp): 265'))).toEqual({ pmax_W: 265 });
    expect(values(photo('Solarmodul\nIsc 6.73A\nlpm 6.35A'))).toEqual({ isc_A: 6.73, imp_A: 6.35 });
    expect(values(photo('Batteria LiFeP04\nPeso - 33,0Kkg'))).toEqual({ chemistry: 'lfp', mass_kg: 33 });
  });
  test('charging is never taken for discharging: what lies near to both stays as it was read', () => {
    expect(mendedWords('descarqa 100 A')).toBe('descarga 100 A');
    expect(mendedWords('dizcharge 100 A')).toBe('discharge 100 A');
    expect(mendedWords('xcarica 100 A')).toBe('xcarica 100 A');
    expect(mendedWords('carica, scarica')).toBe('carica, scarica');
  });
  test('words of another meaning and figures are left alone', () => {
    for (const text of [
      'Weighing scale 25 kg',
      'Marram 205M',
      'S/N 317723874',
      'Colour black',
      'Rate 5 A',
      'Made in 2025',
    ])
      expect(mendedWords(text)).toBe(text);
  });
  test('what was typed is taken at its word', () => {
    expect(values(read('Solar module\nShart cirquit cusrent 6,57 A'))).toEqual({});
  });
  test('a dash before a figure is no sign where nothing below zero is sold', () => {
    expect(values(photo('Module photovoltaique\nTension a Pmax -41.0 V'))).toEqual({ vmp_V: 41 });
    expect(values(read('Solar module\nIsc 6 A\nTemp. coeff. Voc -0.28 %/C'))).toMatchObject({ betaVoc_pct_C: -0.28 });
  });
  test('a figure alone must be read more surely than one that others bear out', () => {
    const module = 'Solarmodul\nPmax 200 W\nVoc 24.3 V\nIsc 10.41 A\nVmp 20.4 V\nImp 9.80 A\nGewicht 11 kg';
    expect(unsure(photo(module, 84))).toEqual(['mass_kg']);
    expect(unsure(photo(module, 90))).toEqual([]);
    // Read by a digit wrong, the three do not agree, and none of them bears out another.
    expect(unsure(photo(module.replace('20.4', '20.9'), 84))).toEqual(
      expect.arrayContaining(['pmax_W', 'voc_V', 'isc_A', 'vmp_V', 'imp_A']),
    );
    expect(unsure(photo('Battery LiFePO4\n51.2V\nCapacity 288Ah', 84))).toContain('blockCapacity_Ah');
    expect(unsure(photo('LiFePO4 battery 45\n12.8V 200Ah 2.56kWh', 84))).toEqual([]);
    expect(unsure(photo('LiFePO4 battery 45\n12.8V 208Ah 2.56kWh', 84))).toEqual(['blockCapacity_Ah', 'block_V']);
  });
});

describe('what a plate calls its device', () => {
  test.each([
    ['Pellworth MPPT 150 | 30\nPV input: 150 V max\nOutput: 30 A max', 'Pellworth MPPT 150 | 30'],
    ['SOLAR MODULE\nTarnlight 310\nVoc 45.1 V\nSTC', 'Tarnlight 310'],
    ['Kelvane LiFePO4 battery 45\n12.8V 200Ah 2.56kWh', 'Kelvane LiFePO4 battery 45'],
    ['Brisk & Holm\nBatteria al litio LiFePO4\nTensione nominale 51,2V', 'Brisk & Holm'],
    // No name: sorts of devices, figures, addresses.
    ['Módulo fotovoltaico\nPmax 300 W\nVoc 40 V\nSTC', null],
    ['Pure sine inverter\nwww.example.test\nOutput 1000W', null],
    ['MPPT charge controller\nS/N 31772\nMax. PV voltage 100 V\nMarram 100', null],
  ])('%s', (text, name) => expect(nameOn(read(text))).toBe(name));
  test('what was read with doubt is no name', () => {
    const photo = (confidence: number) =>
      nameOn(readPlate([{ text: 'Tarnl1ght 31O', confidence }, { text: 'Solar module Voc 45.1 V STC' }]));
    expect([photo(59), photo(60)]).toEqual([null, 'Tarnl1ght 31O']);
  });
});

describe('a row that the reader left out', () => {
  const row = (y: number, x = 100) => ({
    text: 'Isc 6 A',
    confidence: 90,
    box: { x0: x, y0: y, x1: x + 300, y1: y + 30 },
  });
  test('is looked for where rows stand twice as far apart', () => {
    expect(leftOut([row(100), row(150), row(250), row(300), row(350)])).toEqual([
      { x0: 100, y0: 180, x1: 400, y1: 250 },
    ]);
  });
  test('not where they stand evenly, where a logo is, or of too few', () => {
    expect(leftOut([row(100), row(150), row(200), row(252), row(300)])).toEqual([]);
    expect(leftOut([row(100), row(150), row(200), row(500), row(550)])).toEqual([]);
    expect(leftOut([row(100), row(150), row(250)])).toEqual([]);
  });
  test('two columns of a table are one row', () => {
    expect(leftOut([row(100), row(104, 500), row(150), row(155, 500), row(200), row(250), row(255, 500)])).toEqual([]);
  });
  test('its line is read by itself and comes to its place', async () => {
    const asked: unknown[] = [];
    const read = await firstReading(
      ['photo'].map((one) => () => one),
      ['auto', 'block'],
      (_, mode, part) => {
        asked.push(part ?? mode);
        const lines = [100, 150, 250, 300].map((y, i) => ({
          ...row(y),
          text: ['Solar module STC', 'Voc 24 V', 'Vmp 20 V', 'Pmax 120 W'][i] ?? '',
        }));
        return Promise.resolve(part ? [{ ...row(200), text: 'Isc 7 A' }] : lines);
      },
    );
    expect(read?.lines.map(({ text }) => text)).toEqual([
      'Solar module STC',
      'Voc 24 V',
      'Isc 7 A',
      'Vmp 20 V',
      'Pmax 120 W',
    ]);
    expect(asked).toEqual(['auto', { x0: 100, y0: 180, x1: 400, y1: 250 }]);
  });
});
