import { DAYS_Y, MONTH_OF_DAY } from '../sun/calendar';
import { GENERATOR_SHARE } from '../power/ac';
import { leftOnBank } from './left-on-bank';
import { SLOTS, type YearPlan } from './setup';
import { sumUp, takeRest } from './summed';
import { SUMS, SUM_COUNT, type Given, type Run, type Trace } from './run';

/** Shares below this are rounding. */
const HAIR = 1e-9;

/**
 * One year from the state that `run` holds, which it leaves as the year ends.
 * @param before the same year from another state: from the day on which both stand alike (a bank that is full is full,
 *   wherever it came from) the rest is as it was, and is taken from there. Not with a trace: that wants every hour.
 * @param span the first of its days, and the one before which it ends; months and the year are summed of a whole one alone
 */
// One loop, deliberately whole: it is held to one and a half times a plain C loop (docs/bench.md), and has a dozen numbers at hand.
// oxlint-disable-next-line max-lines-per-function
export function runYear(
  plan: YearPlan,
  given: Given,
  run: Run,
  trace: Trace | null = null,
  before: Run | null = null,
  [first, end]: readonly [first: number, end: number] = WHOLE_YEAR,
): void {
  const { demand, bank, generator, occupied, inlet } = plan;
  const { bank_W, carriedBank_W, carried_W, idle_W, self_W } = demand;
  const ranks = demand.priorities.length;
  const { available_W, excess_W, engine_W, driving, factor, most_A } = given;
  const mainsPart = given.inlet;
  const inlet_W = inlet ? inlet.most_W : 0;
  const { dayLow, days } = run;
  const unservedBy = days.unservedBy;
  const capacity = bank.capacity_Wh;
  const { efficiency, absorb_V, tail_A, largest_A, selfDischarge, lithium, cut, restart } = bank;
  const perEfficiency = 1 / efficiency;
  const least = 1 - bank.depth;
  const rated = generator ? generator.rated_W : 0;
  const daily = generator?.daily ?? null;
  const ofGenerator = generator ? generator.chargers : [];
  const ofInlet = inlet ? inlet.chargers : [];
  if (end - first === DAYS_Y) unservedBy.fill(0);
  else unservedBy.fill(0, first * ranks, end * ranks);
  let store = run.store_Wh;
  let off = run.off;
  let generating = run.generating;
  let spell = 0;
  let hour = 24 * first;
  const alike = capacity * ALIKE;
  for (let day = first; day < end; day++) {
    if (
      before !== null &&
      trace === null &&
      spell === 0 &&
      before.days.spell[day] === 0 &&
      (before.days.off[day] === 1) === off &&
      (before.days.generating[day] === 1) === generating &&
      Math.abs((before.days.store_Wh[day] as number) - store) <= alike
    ) {
      takeRest(run, before, day, ranks);
      sumUp(run, ranks);
      return;
    }
    days.store_Wh[day] = store;
    days.off[day] = off ? 1 : 0;
    days.generating[day] = generating ? 1 : 0;
    days.spell[day] = spell;
    const month = MONTH_OF_DAY[day] as number;
    let discharged = 0;
    let worst = 0;
    let worstStart = 0;
    const room = capacity * (factor[day] as number);
    const perRoom = 1 / room;
    const cutAt = capacity - (1 - cut) * room;
    const most = most_A[day] as number;
    const barred = most === 0;
    const counts = barred && lithium && !bank.protectedFromCold;
    // Lead takes its largest current up to four fifths, then less and less: the two constants of that curve.
    const rate = (absorb_V * most * efficiency) / room;
    const fall = 5 * Math.log(most / tail_A);
    const tapers = (lithium ? largest_A : most) > tail_A;
    const mayGenerate = generator !== null && (occupied[month] === true || generator.autoStart);
    let low = 1;
    // A day's sums are kept at hand and put away once.
    let harvest = 0;
    let used = 0;
    let unservedSum = 0;
    let unused = 0;
    let clipped = 0;
    let generated = 0;
    let generated_h = 0;
    let generated_L = 0;
    let engineSum = 0;
    let losses = 0;
    let below_h = 0;
    let off_h = 0;
    let cold_h = 0;
    let inletSum = 0;
    for (let h = 0; h < 24; h++, hour++) {
      const slot = month * 24 + h;
      let soc = 1 - (capacity - store) * perRoom;
      if (soc < 0) soc = 0;
      if (off) {
        if (soc >= restart) off = false;
      } else if (soc <= cut) off = true;
      const engine = engine_W[hour] as number;
      // The mains of a house, for a part of the hour or all of it: no generator beside them.
      const mains = inlet === null ? 0 : (mainsPart[hour] as number);
      let runs = false;
      if (generator !== null) {
        if (generating) {
          if (soc >= generator.stop) generating = false;
        } else if (soc <= generator.start) generating = true;
        if (generating && (!mayGenerate || generator.quiet[h] === 1 || driving[hour] === 1 || mains > 0))
          generating = false;
        runs = generating;
        // Hours that somebody runs it each day, whatever the charge: the same that keeps it still keeps these.
        if (daily !== null && daily[h] === 1 && !runs)
          runs = mayGenerate && soc < generator.stop && generator.quiet[h] !== 1 && driving[hour] !== 1 && !(mains > 0);
      }

      // What is drawn from the bank, and what a running generator carries straight.
      const byMains = runs || mains > 0;
      const part = mains > 0 ? mains : 1;
      const ac_W = mains > 0 ? inlet_W * mains : runs ? GENERATOR_SHARE * rated : 0;
      const chargers = mains > 0 ? ofInlet : ofGenerator;
      let acLeft = ac_W;
      let carried = 0;
      let asked = self_W + (off ? 0 : idle_W);
      let wanted = 0;
      for (let p = 0; p < ranks; p++) {
        const slotOf = p * SLOTS + slot;
        let watts = bank_W[slotOf] as number;
        if (byMains) {
          const ac = carried_W[slotOf] as number;
          if (ac > 0) {
            const there = ac * part;
            const taken = there < acLeft ? there : acLeft;
            acLeft -= taken;
            carried += taken;
            watts -= ((carriedBank_W[slotOf] as number) * taken) / ac;
          }
        }
        wanted += watts;
      }
      const lost = off ? wanted : 0;
      if (!off) asked += wanted;

      // What the bank takes.
      const sun = available_W[hour] as number;
      const offered = sun + engine;
      let accept = 0;
      // At night nothing is on offer: what it would take is nobody's question.
      if (!barred && (offered > 0 || byMains)) {
        if (!tapers) accept = most * absorb_V;
        else if (lithium) {
          const share = soc <= 0.98 ? 1 : (1 - soc) / 0.02;
          // The cold is a lid on that, not another curve.
          const amps = tail_A + (largest_A - tail_A) * share;
          accept = (amps < most ? amps : most) * absorb_V;
        } else {
          const t = soc >= 0.8 ? 0 : (0.8 - soc) / rate;
          if (t >= 1) accept = most * absorb_V;
          else {
            const x = soc > 0.8 ? soc : 0.8;
            const end = x + Math.log(1 + fall * rate * (1 - t) * Math.exp(-fall * (x - 0.8))) / fall;
            accept = (end - soc) * room * perEfficiency;
          }
        }
        const full = (capacity - store) * perEfficiency;
        if (accept > full) accept = full;
      }

      // Sun first, then engine, then generator: for the demand, and what is left of each for the bank.
      const clip = asked + accept - sun;
      if (clip > 0) {
        const excess = excess_W[hour] as number;
        clipped += excess < clip ? excess : clip;
      }
      let need = asked;
      const sunUsed = sun < need ? sun : need;
      need -= sunUsed;
      const engineUsed = engine < need ? engine : need;
      need -= engineUsed;
      const sunLeft = sun - sunUsed;
      const engineLeft = engine - engineUsed;
      const sunIn = sunLeft < accept ? sunLeft : accept;
      let free = accept - sunIn;
      const engineIn = engineLeft < free ? engineLeft : free;
      free -= engineIn;
      let byGenerator = 0;
      let output = carried;
      if (byMains) {
        let want = need + free;
        for (let c = 0; c < chargers.length; c++) {
          const charger = chargers[c] as (typeof chargers)[number];
          const able = charger.efficiency * acLeft;
          const most_W = charger.most_W * part;
          let gives = most_W < able ? most_W : able;
          if (gives > want) gives = want;
          want -= gives;
          acLeft -= gives / charger.efficiency;
          output += gives / charger.efficiency;
          byGenerator += gives;
        }
      }
      const generatorUsed = byGenerator < need ? byGenerator : need;
      need -= generatorUsed;
      const charged = sunIn + engineIn + (byGenerator - generatorUsed);

      // A deficit is drawn from the store, as far as the cut-off; what is over by then is left unserved, the last rank first.
      let drawn = need;
      let unserved = lost;
      if (need > 0) {
        if (off) {
          // What the cold has locked in runs nothing: at a charge of 0 the controllers' own use ends.
          const left = store > capacity - room ? store - (capacity - room) : 0;
          drawn = need < left ? need : left;
        } else {
          const left = store > cutAt ? store - cutAt : 0;
          if (need > left) {
            drawn = left;
            // Idle and the controllers' own use come first and are nobody's loss: where not even they are met down to
            // the cut-off, the inverter lets go within the hour.
            unserved = need - drawn < wanted ? need - drawn : wanted;
          }
        }
      }
      if (unserved > 0) {
        let rest = unserved;
        for (let p = ranks - 1; p >= 0 && rest > 0; p--) {
          const slotOf = p * SLOTS + slot;
          let watts = bank_W[slotOf] as number;
          if (carried > 0) watts = leftOnBank(plan, slot, p, ac_W, part);
          const gone = watts < rest ? watts : rest;
          rest -= gone;
          unservedBy[day * ranks + p] = (unservedBy[day * ranks + p] as number) + gone;
        }
      }
      // What of idle and own use the store did not give is no demand: nothing was there to draw it.
      const served = asked - need + drawn;
      store += efficiency * charged - drawn;
      if (store < 0) store = 0;
      const leak = store * selfDischarge;
      store -= leak;
      discharged += drawn;

      harvest += sunUsed + sunIn;
      used += served + carried;
      unservedSum += unserved;
      unused += sunLeft - sunIn;
      engineSum += engineUsed + engineIn;
      losses += (1 - efficiency) * charged + leak;
      if (mains > 0) inletSum += carried + byGenerator;
      else if (runs) {
        generated += carried + byGenerator;
        generated_h += 1;
        // Rated and part load, planning values.
        generated_L += (0.081 * rated + 0.246 * output) / 1000;
      }
      if (counts && (sunLeft > 0 || engineLeft > 0 || byMains) && store < capacity * (1 - HAIR)) cold_h += 1;
      let end = 1 - (capacity - store) * perRoom;
      if (end < 0) end = 0;
      if (end < low) low = end;
      const short = end < least - HAIR;
      if (short) below_h += 1;
      if (off) off_h += 1;
      if (short || off) {
        spell += 1;
        if (spell > worst) {
          worst = spell;
          worstStart = hour - spell + 1;
        }
      } else spell = 0;
      if (trace !== null) {
        trace.soc[hour] = end;
        trace.demand_W[hour] = asked + lost + carried;
        trace.served_W[hour] = served + carried;
        trace.generator[hour] = runs ? 1 : 0;
      }
    }
    const at = day * SUM_COUNT;
    const { sums } = days;
    sums[at + SUMS.harvest] = harvest;
    sums[at + SUMS.used] = used;
    sums[at + SUMS.unserved] = unservedSum;
    sums[at + SUMS.unused] = unused;
    sums[at + SUMS.clipped] = clipped;
    sums[at + SUMS.generator] = generated;
    sums[at + SUMS.generator_h] = generated_h;
    sums[at + SUMS.generator_L] = generated_L;
    sums[at + SUMS.engine] = engineSum;
    sums[at + SUMS.losses] = losses;
    sums[at + SUMS.belowDepth_h] = below_h;
    sums[at + SUMS.off_h] = off_h;
    sums[at + SUMS.coldCharge_h] = cold_h;
    sums[at + SUMS.inlet] = inletSum;
    days.discharged_Wh[day] = discharged;
    days.worst[day] = worst;
    days.worstStart_h[day] = worstStart;
    dayLow[day] = low;
  }
  run.store_Wh = store;
  run.off = off;
  run.generating = generating;
  if (end - first === DAYS_Y) sumUp(run, ranks);
}
const WHOLE_YEAR = [0, DAYS_Y] as const;

/** Stores that are nearer to each other than this share of the whole are the same: rounding, no watt-hour. */
const ALIKE = 1e-12;
