import { partTitle } from '../conductors/names';
import { counted } from '../ledger/figures';
import { figurePair } from '../line/figures';
import { CONSEQUENCE_WORDS, VERDICT_WORDS } from '../line/verdicts';
import { lowered } from '../parts/said';
import { check, sentenceOf, titleOf } from '../rules/check';
import { remediesOf } from '../rules/cures/remedies';
import { VERDICT_ORDER, worstFirst, type Finding, type Verdict } from '../rules/finding';
import { gistOf, RULE_BOOK, worstState } from '../rules/headline';
import { answerOf, SCHOOLS } from '../rules/schools';
import { modelOf, type Model } from '../system/model';
import type { SystemFile } from '../system/schema';
import { pretty, type Units } from '../written/units';
import { part, type FindingBlock, type Paper, type Table } from './blocks';
import { inputName } from './names';
import { underOf } from './survey-report';

/**
 * Every finding with its working and with what it rests on (docs/papers.md): of the system as found in the state in which
 * it is worst, or with one proposal.
 * @throws FaultError where there is no such proposal, or it no longer applies
 */
export function checkReport(file: SystemFile, proposal: string | null, units: Units): Paper {
  const found = modelOf(file, proposal ?? undefined);
  const state = worstState(found);
  const model = state?.judged ?? found;
  const findings = [...(state?.findings ?? check(model))].sort(worstFirst);
  const of = (...verdicts: Verdict[]) => findings.filter(({ verdict }) => verdicts.includes(verdict));
  const what = proposal === null ? 'the system as found' : `with "${titleOfProposal(file, proposal)}"`;
  return {
    title: 'Check report',
    under: `${underOf(model)}: ${what}${state ? `, ${lowered(labelOfState(model, state.id))}` : ''}`,
    blocks: [
      { is: 'text', look: 'lead', text: pretty(gistOf(model, findings).sentence, units) },
      { is: 'text', text: `${countsText(findings)}.` },
      ...part('Over', ...of('over').map((one) => findingBlock(model, one, findings, units))),
      ...part('Tight', ...of('tight').map((one) => findingBlock(model, one, findings, units))),
      ...part('Unknown until measured', unknownTable(model, of('unknown'), units)),
      ...part('Notes', ...of('note').map((one) => findingBlock(model, one, findings, units))),
      ...part('OK', okTable(model, of('holds')), {
        is: 'list',
        items: of('holds').flatMap((one) => (isFigured(one) ? [] : [pretty(sentenceOf(model, one), units)])),
      }),
      ...part('Design standards', standardsTable(model)),
      {
        is: 'text',
        look: 'small',
        text: `Rule book ${RULE_BOOK}. Figures marked as assumed are typical values: measure them before work that depends on them.`,
      },
    ],
  };
}

const titleOfProposal = ({ proposals }: SystemFile, id: string) => proposals?.find((one) => one.id === id)?.title ?? id;
const labelOfState = ({ system }: Model, id: string) => system.states?.find((one) => one.id === id)?.label ?? id;

/** "3 over, 2 tight, 5 unknown, 41 OK". */
function countsText(findings: readonly Finding[]): string {
  const counts = VERDICT_ORDER.flatMap((verdict) => {
    const count = findings.filter((one) => one.verdict === verdict).length;
    if (count === 0) return [];
    return verdict === 'note'
      ? [counted(count, 'note')]
      : [`${count} ${verdict === 'holds' ? 'OK' : lowered(VERDICT_WORDS[verdict])}`];
  });
  return counts.join(', ') || 'Nothing could be checked';
}

function findingBlock(model: Model, finding: Finding, all: Finding[], units: Units): FindingBlock {
  const { verdict, consequence, working, assumed, missing, school, cautions } = finding;
  const names = (paths: readonly string[]) => paths.map((path) => inputName(model, path)).join('; ');
  const [cure] = remediesOf(model, finding, all);
  const notes = [
    ...(cure ? [`What helps: ${cure.title}${cure.detail ? ` (${cure.detail})` : ''}.`] : []),
    ...(assumed.length > 0 ? [`Assumed: ${names(assumed)}.`] : []),
    ...(missing.length > 0 ? [`Not known: ${names(missing)}.`] : []),
    ...(school ? [`Design standard: ${school}.`] : []),
    ...cautions,
  ];
  return {
    is: 'finding',
    verdict,
    sentence: pretty(sentenceOf(model, finding), units),
    about: `${VERDICT_WORDS[verdict]} \u00b7 ${CONSEQUENCE_WORDS[consequence]} \u00b7 ${lowered(titleOf(finding))}`,
    working: working.map((line) => pretty(line, units, true)),
    notes: notes.map((line) => pretty(line, units)),
  };
}

const whereText = (model: Model, { subject }: Finding) => pretty(partTitle(model.system, subject) ?? model.site.name);

function unknownTable(model: Model, findings: readonly Finding[], units: Units): Table {
  return {
    is: 'table',
    columns: [
      { title: 'Rule', wide: 3 },
      { title: 'Where', wide: 3 },
      { title: 'To find out', wide: 4 },
    ],
    rows: findings.map((one) => [
      titleOf(one),
      whereText(model, one),
      pretty(one.missing.map((path) => inputName(model, path)).join('; '), units),
    ]),
  };
}

const isFigured = ({ demand, limit }: Finding) => demand !== null && limit !== null;

function okTable(model: Model, findings: readonly Finding[]): Table {
  return {
    is: 'table',
    columns: [
      { title: 'Rule', wide: 3 },
      { title: 'Where', wide: 3 },
      { title: 'There is', wide: 1.6, figures: true },
      { title: 'Limit', wide: 1.6, figures: true },
      { title: 'Use', wide: 1, figures: true },
    ],
    rows: findings.filter(isFigured).map((one) => {
      const { there, allowed, unit } = figurePair(one);
      const of = (value: string) => pretty(`${value}${unit ? ` ${unit}` : ''}`);
      return [
        titleOf(one),
        `${whereText(model, one)}${one.assumed.length > 0 ? ' (assumed in part)' : ''}`,
        of(there),
        `${one.sense === 'min' ? 'at least ' : ''}${of(allowed)}`,
        one.use === null ? '' : `${Math.round(100 * one.use)}\u00a0%`,
      ];
    }),
  };
}

/** By which answers it was judged: two technicians with other standards get other verdicts. */
function standardsTable(model: Model): Table {
  return {
    is: 'table',
    columns: [
      { title: 'Question', wide: 4 },
      { title: 'Answer', wide: 2 },
    ],
    rows: SCHOOLS.flatMap((school) => {
      const answer = answerOf(model.schools, school, model.site);
      const word = school.choices.find(([value]) => value === answer)?.[1];
      return answer === null || answer === undefined ? [] : [[school.label, word ?? String(answer)]];
    }),
  };
}
