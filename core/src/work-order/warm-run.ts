import { isLithium } from '../chemistry/chemistry';
import { partName } from '../conductors/names';
import { CAUTIONS } from '../rules/cautions';
import type { Model } from '../system/model';
import { MINUTES, type Keys } from './among';
import type { PartWork } from './difference';
import type { Next, Order } from './order';

/** After everything is on: warm, the cold cut proved, the shunt set, then signed. */
export function warmAndSign(
  order: Order,
  model: Model,
  works: readonly PartWork[],
  { on, handled }: { on: Keys; handled: boolean },
): void {
  const { system } = model;
  const { bank, monitor } = system;
  let done = on;
  const next: Next = (step) => {
    done = [...done, order.add({ ...step, after: done })];
  };
  if (handled)
    next({
      phase: 'warm',
      act: 'warm-run',
      text: 'Run at half load or more for 15 to 30 min; check every joint with a thermal camera, then torque again.',
      parts: works.filter(({ fit, kind }) => fit && kind === 'runs').map(({ id }) => id),
      why: 'a bad joint only shows when it is warm',
      minutes: MINUTES.warm,
      tool: 'thermal camera or contact thermometer',
    });
  if (bank && isLithium(bank.chemistry))
    next({
      phase: 'warm',
      act: 'cold-cut',
      text: 'Test the low-temperature cut-off: cool the sensor below its setting; charging must fall to 0 A within seconds.',
      parts: [bank.id],
      why: 'lithium charged below freezing is permanently damaged',
      minutes: 10,
      tool: 'cold spray or ice, DC clamp meter',
      cautions: [CAUTIONS.coldLithium],
    });
  if (monitor && handled)
    next({
      phase: 'warm',
      act: 'sync',
      text: `Charge the bank full, then synchronise ${partName(model, monitor.id)} at full.`,
      parts: [monitor.id],
      why: 'it counts correctly from then on',
      minutes: 5,
    });
  next({
    phase: 'sign',
    act: 'sign',
    text: 'Take the remaining measurements, hand over, sign.',
    why: 'the proposal becomes the current system',
    minutes: 15,
  });
}
