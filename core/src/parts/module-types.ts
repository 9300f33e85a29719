import type { InferType } from 'yup';
import { id, name, notes } from './common';
import { flag, millimetres, num, part, positive, requiredPositive, whole } from './fields';
import { inLine, kind } from './kind';
import { asked, first } from './words';

/** Modules by their nameplate. */
export const moduleTypes = kind({
  single: false,
  word: 'Module',
  noun: 'a module type',
  stem: 'module',
  question: 'Which module is on the roof?',
  shelf: { onSite: {} },
  goods: 'parts',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    pmax_W: asked('Power', requiredPositive(2000)),
    voc_V: asked('Open-circuit voltage', requiredPositive(1500)),
    isc_A: asked('Short-circuit current', requiredPositive(100)),
    vmp_V: asked('Voltage at maximum power (Vmp)', requiredPositive(1500)),
    imp_A: asked('Current at maximum power (Imp)', requiredPositive(100)),
    betaVoc_pct_C: first('Voc coefficient', num(-2, 2), { typical: -0.3, hint: 'usually minus 0.25 to minus 0.35' }),
    cells: asked('Cells (as printed)', whole(1, 400)),
    maxSeriesFuse_A: first('Maximum series fuse', positive(1000)),
    maxSystem_V: asked('Maximum system voltage', positive(1500)),
    alphaIsc_pct_C: asked('Isc coefficient', num(-2, 2), { typical: 0.05 }),
    gammaPmax_pct_C: asked('Power coefficient', num(-2, 2)),
    noct_C: asked('NOCT', num(20, 90), { typical: 45 }),
    bypassDiodes: asked('Bypass diodes', whole(1, 64)),
    halfCut: asked('Half-cut cells', flag()),
    bifacial: asked('Bifacial', flag()),
    flexible: asked('Flexible', flag()),
    length_mm: asked('Length', millimetres()),
    width_mm: asked('Width', millimetres()),
    mass_kg: asked('Mass', num(0, 1000)),
    notes: notes(),
  }),
  fact: ({ pmax_W, voc_V, isc_A }, _, { amount }) =>
    inLine(amount(pmax_W, 'W', 5), `open ${amount(voc_V, 'V', 5)}`, `short ${amount(isc_A, 'A', 5)}`),
  line: { at: 'list' },
});
export type ModuleType = InferType<typeof moduleTypes.schema>;
