import { modelOf } from '../system/model';
import type { SystemFile } from '../system/schema';
import { handOver } from '../work-order/handover';
import { part, type Paper } from './blocks';
import { underOf } from './survey-report';

/**
 * What the customer keeps, as a paper: the same as the hand-over page says.
 * @param on the day, counted from 1 January 1970
 * @throws FaultError where there is no such proposal, or it no longer applies
 */
export function handOverPaper(file: SystemFile, proposal: string | null, on: number): Paper {
  const page = handOver(file, on, proposal ?? undefined);
  const list = (title: string, items: readonly string[], numbered = false) =>
    part(title, { is: 'list', items: [...items], numbered });
  return {
    title: 'Your system',
    under: underOf(modelOf(file)),
    blocks: [
      ...list('In an emergency: switching everything off', page.off, true),
      ...list('What you have', page.have),
      ...list('What may run at the same time', page.atOnce),
      ...part('Without sun', { is: 'text', text: page.withoutSun ?? '' }),
      ...list('What not to do', page.never),
      ...list(
        'What you do yourself',
        page.jobs.map(({ what, every }) => `${what}: ${every}.`),
      ),
      ...list('Where the switches are', page.isolators),
      {
        is: 'text',
        look: 'small',
        text: 'The makers\u2019 manuals come first. Work on the wiring is for a qualified person.',
      },
      { is: 'sign', who: ['For the firm', 'Received by the customer'] },
    ],
  };
}
