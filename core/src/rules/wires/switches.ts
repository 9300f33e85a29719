import { networkOf } from '../../conductors/network';
import { continuous_A, design_A } from '../../power/design';
import type { Model } from '../../system/model';
import type { Run, Switch } from '../../system/schema';
import { apart, figure } from '../../ledger/figures';
import { BOOST_ONLY, dcVolts, voltsSentence } from './dc-volts';
import { bankFaultReaches, faultAt_A, fuseBefore, interruptLetOff, interruptOutcome } from './fault-current';
import { partName } from '../../conductors/names';
import { largerPart } from '../cures/devices';
import { rule, type Case, type Rule } from '../rule';
import { raised } from '../../parts/said';

/** Switches on a run: current, volts, and whether what opens by itself breaks a fault there. */

const runOf = ({ system }: Model, { runId }: Switch): Run | undefined => system.runs?.find(({ id }) => id === runId);
/** What opens by itself, on a fault. */
const opensItself = ({ kind }: Switch) => kind === 'breaker' || kind === 'ground-fault';

const cases = (model: Model): Case<Switch>[] =>
  (model.system.switches ?? []).flatMap((one) => {
    const run = runOf(model, one);
    const of = (quantity: string): Case<Switch> => ({ subject: one.id, about: one, quantity });
    if (!run) return [];
    return [
      of('current'),
      ...(run.kind === 'ac' ? [] : [of('volts')]),
      ...(opensItself(one) && bankFaultReaches(run, model) ? [of('interrupt')] : []),
    ];
  });

const rating = rule<Switch>({
  id: 'switch.rating',
  letOff: (finding) => (finding.quantity === 'volts' ? BOOST_ONLY : interruptLetOff(finding)),
  title: 'Switch rating',
  consequence: 'danger',
  gravity: ({ quantity }) => (quantity === 'interrupt' ? 2 : undefined),
  bearsOn: ['load', 'fuse', 'strings'],
  cautions: ['dcRated'],
  cases,
  evaluate(io, one, quantity) {
    const run = runOf(io.model, one);
    if (!run) return null;
    if (quantity === 'volts')
      return dcVolts(io, run, {
        path: one.id,
        asks: true,
        dcRated: one.dcRated,
        polarised: one.polarised,
        voltage_V: one.voltage_V,
      });
    if (quantity === 'interrupt') {
      const own = networkOf(io.model.system).ownEnd(run);
      // At the run's own end the whole cable, and its fuse, lie before it.
      const far = Boolean(one.end) && run[one.end ?? 'from'] === own;
      return interruptOutcome(
        io,
        one.id,
        { type: 'breaker', rating_A: one.rating_A, interrupt_A: one.interrupt_A },
        (doubled) => faultAt_A(io, { run, fromSource_m: far ? run.length_m : 0 }, doubled),
        fuseBefore(io, run, far),
      );
    }
    const design = design_A(io, run);
    const demand = opensItself(one) ? continuous_A(io, run, design) : design;
    io.work(`design ${figure(design)} A${demand === design ? '' : `, continuous ${figure(demand)} A`}`);
    const limit = io.need(`${one.id}.rating_A`, one.rating_A);
    const ratio = { demand, limit, unit: 'A', sense: 'max', tightAbove: 1 } as const;
    // What opens by itself trips; what does not gets hot.
    return opensItself(one) ? { ratio, consequence: 'outage' } : { ratio };
  },
  sentence(finding, model) {
    const { demand, limit, verdict, quantity, subject } = finding;
    const what = partName(model, subject);
    if (quantity === 'volts') return voltsSentence(what, finding);
    if (verdict === 'unknown') return `Whether ${what} can carry what flows there is not known yet.`;
    if (quantity === 'interrupt') {
      const { there, allowed } = apart((demand ?? NaN) / 1000, (limit ?? NaN) / 1000);
      return `${raised(what)} can interrupt ${allowed} kA; a short circuit there reaches ${there} kA.`;
    }
    const { there, allowed } = apart(demand, limit);
    return `${raised(what)} carries ${there} A; it is rated for ${allowed} A.`;
  },
  remedies: (model, { id }, { quantity, demand }) =>
    quantity === 'current'
      ? largerPart('switches', id, 'rating_A', demand, SWITCH_A, (amps) => ({
          title: `${raised(partName(model, id))} for ${amps} A`,
          detail: 'for DC at this voltage; both poles if the cable is not earthed',
        }))
      : [],
  needs: ({ quantity }) =>
    quantity === 'volts'
      ? 'Needs a switch rated for DC at that voltage, not polarised if current flows both ways.'
      : quantity === 'interrupt'
        ? 'Needs a fuse upstream that interrupts the fault, or a breaker whose data sheet says it does.'
        : 'Needs a switch rated for that current.',
});
const SWITCH_A = [16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 250, 275, 300, 400, 500, 600];

/** Rules of switches on their cables. */
export const switchRules: Rule<unknown>[] = [rating];
