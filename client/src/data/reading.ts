import {
  bearsFuse,
  CONSEQUENCE_ORDER,
  figurePair,
  figures,
  lowered,
  partById,
  partTitle,
  RULES,
  sentenceOf,
  splitPath,
  worstFirst,
  type Consequence,
  type Finding,
  type Model,
} from '@true-lantern/core';
import { fieldSpec, KIND_WORDS } from './fields';
import { rowOfPart, type OpenSite } from './site';

/** The one sentence at the head of a site, and what it leads to: null where nothing is over. */
export interface Lead {
  text: string;
  /** What is left of it where there is little room, ever less; none: all of it matters. */
  shorter: string[];
  over: Consequence | null;
}

/** What is worst, or else what is closest, or else that nothing can be judged. */
export function leadOf({ findings, judged: model }: OpenSite): Lead {
  const [worst] = [...findings].sort(worstFirst);
  const { arrays, bank } = model.system;
  if (!worst || (!bank && !arrays?.length))
    return { text: 'Nothing can be checked yet. Begin with the modules and the bank.', shorter: [], over: null };
  if (worst.verdict !== 'holds' && worst.verdict !== 'note')
    return {
      text: sentenceOf(model, worst),
      shorter: figuresOf(model, worst),
      over: worst.verdict === 'over' ? worst.consequence : null,
    };
  // Where being at the limit is as meant (one string of at most one), there is nothing to be close to.
  const closest = findings
    .filter(({ use, tightAbove }) => use !== null && tightAbove !== null && tightAbove < 1)
    .sort((a, b) => (b.use ?? 0) - (a.use ?? 0))[0];
  if (!closest) return { text: 'Nothing is over.', shorter: [], over: null };
  const near = `Closest: ${lowered(sentenceOf(model, closest))}`;
  return {
    text: `Nothing is over. ${near}`,
    shorter: [near, ...figuresOf(model, closest).map((figured) => `Closest: ${lowered(figured)}`)],
    over: null,
  };
}

/** The part and its two figures: "Fuse of Charger to bank: 11.9 kA, limit 1 kA." None without figures, where only words tell what is wrong. */
function figuresOf({ system }: Model, finding: Finding): string[] {
  const who = partTitle(system, finding.subject);
  if (who === null || finding.demand === null || finding.limit === null) return [];
  const ofFuse =
    RULES.find(({ id }) => id === finding.rule)?.bearsOn.includes('fuse') &&
    system.runs?.some(({ id }) => id === finding.subject);
  const { there, allowed, unit } = figurePair(finding);
  const against =
    finding.sense === 'max' && unit !== '' ? `${there}\u00a0${unit}, limit ${allowed}\u00a0${unit}` : figures(finding);
  const plain = `${who}: ${against}.`;
  return ofFuse ? [`Fuse of ${plain}`, plain] : [plain];
}

/** Something the survey does not say and a check asks for. */
export interface Gap {
  /** As in evidence: "cc.maxPv_A", or a part that is missing whole: "bank". */
  path: string;
  partId: string;
  field: string;
  /** In which it is stored; null where it has none. */
  unit: string | null;
  /** "Brackwell T60-150: highest PV current?" */
  question: string;
  /** How many findings wait for it. */
  settles: number;
}

/** What is missing: what a danger waits for comes first, then what settles most. */
export function gapsOf(site: OpenSite): Gap[] {
  const waiting = new Map<string, { settles: number; grave: number }>();
  const waits = (path: string, settles: number, grave: number) => {
    const before = waiting.get(path);
    waiting.set(path, {
      settles: (before?.settles ?? 0) + settles,
      grave: Math.min(before?.grave ?? Infinity, grave),
    });
  };
  for (const finding of site.findings) for (const path of finding.missing) waits(path, 1, graveness(finding));
  // A fuse that should be on a cable from the bank and was not seen is a gap, whichever rules look at it.
  for (const run of site.file.system?.runs ?? [])
    if (bearsFuse(run) && !run.protection?.type) waits(`${run.id}.protection.type`, 0, NO_FUSE);
  return [...waiting]
    .map(([path, { settles, grave }]) => ({ settles, grave, ...placeOf(site, path) }))
    .sort((a, b) => a.grave - b.grave || b.settles - a.settles || a.path.localeCompare(b.path))
    .map(({ grave: _, ...gap }) => gap);
}

/** Dangers by their own order, then damage, outage and the rest: the smaller the graver. */
const graveness = ({ consequence, gravity }: Finding) =>
  consequence === 'danger' ? (gravity ?? PLACES) / (PLACES + 1) : CONSEQUENCE_ORDER.indexOf(consequence);
const PLACES = 6;
/** Where nothing that interrupts stands among dangers. */
const NO_FUSE = 2 / (PLACES + 1);

/** The part and the field that a path of evidence leads to, and how it is asked for. */
export function placeOf(site: OpenSite, path: string): Omit<Gap, 'settles'> {
  const { partId, field } = splitPath(path, (id) => partById(site.model.system, id) !== undefined) ?? {
    partId: path,
    field: '',
  };
  const row = rowOfPart(site, partId);
  const spec = row ? fieldSpec(row.kind, field) : undefined;
  const label =
    partTitle(site.model.system, partId) ??
    row?.body.label ??
    row?.body.name ??
    (partId === 'system' ? 'The system' : ((row && KIND_WORDS[row.kind]) ?? partId));
  const asked = spec?.label ?? field.replace(/[._]/g, ' ');
  return {
    path,
    partId,
    field,
    unit: spec?.unit ?? null,
    question: field ? `${String(label)}: ${lowered(asked)}?` : `${partId}?`,
  };
}

/** Findings about one part, worst first; what is OK comes last. */
export const findingsAbout = (findings: readonly Finding[], partId: string) =>
  findings.filter(({ subject }) => subject === partId).sort(worstFirst);

/** Paths graded as guesses: what rests on them wears a dotted line. */
export function guessesOf({ file }: OpenSite): Set<string> {
  return new Set(
    Object.entries(file.evidence ?? {}).flatMap(([path, { grade }]) => (grade === 'assumed' ? [path] : [])),
  );
}

/** What a part is called on the screen. */
export function partName(site: OpenSite, partId: string): string {
  const title = partTitle(site.model.system, partId);
  if (title !== null) return title;
  const row = rowOfPart(site, partId);
  return String(row?.body.label ?? row?.body.name ?? (row && KIND_WORDS[row.kind]) ?? partId);
}

/** What an input's path is called on the screen: "m235.betaVoc_pct_C" -> "Tarnlight 235: Voc coefficient". */
export const pathName = (site: OpenSite, path: string) => placeOf(site, path).question.replace(/\?$/, '');
