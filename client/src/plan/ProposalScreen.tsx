import {
  recordOf,
  nameIn,
  aspectsOf,
  same,
  eachPart,
  keyOf,
  sentenceOf,
  type Change,
  type ChangeState,
  type Finding,
  type Proposal,
  type System,
  lowered,
  type Proposed,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { fieldSpec, KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { removeProposal, setProposal } from '../data/proposals';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { Button, HeavyRule, Plain, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Mark } from '../ui/mark';
import { BayDrawing } from '../ui/bay-drawing';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { usePretty } from '../ui/units';
import { SiteLine } from '../line/SiteLine';
import { BuyList, usePartsList } from './BuyList';
import { Accept } from './Accept';
import { PlanHeader } from './PlanHeader';
import { useProposed } from './proposed';
import { comparisonText } from './words';
import { WORDS } from '../ui/words';

/** A proposal on the Line: what stays is plain, what changes is in the second ink, what goes is struck through. */
export function ProposalScreen({ proposalId }: { proposalId: string }) {
  const site = useOpenSite();
  const proposal = site.file.proposals?.find(({ id }) => id === proposalId);
  if (!proposal)
    return (
      <Plain title="This proposal is not here.">
        <Button label="All proposals" onPress={() => router.navigate(`/site/${site.id}/plan`)} />
      </Plain>
    );
  return <Opened proposal={proposal} />;
}

function Opened({ proposal }: { proposal: Proposal }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { items } = useShelf();
  const { model, result, states, faults, lost } = useProposed(site, proposal);
  const { system } = model;
  const partsList = usePartsList(site.model.system, system, items);
  const drop = () => {
    offerUndo(`${proposal.title}: removed`, removeProposal(site, proposal.id));
    router.navigate(`/site/${site.id}/plan`);
  };
  const say = (findings: Finding[], judged: typeof model) =>
    findings.map((finding) => ({ finding, text: pretty(sentenceOf(judged, finding)) }));
  const onOpen = useReplacing(site, system, proposal);
  const bank = system.bank;
  const bankChanged = bank && !same(bank, site.model.system.bank);
  return (
    <View className="flex-1">
      <PlanHeader title={proposal.title} second />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <T look="lead" className="px-[18px] pb-4 pt-4" testID="comparison">
            {comparisonText(result)}
          </T>
          <Underneath states={states} faults={faults} />
          <HeavyRule />
          <SiteLine site={site} proposed={{ system, findings: result.after }} />
          <Changes title="Breaks" items={say(result.broken, model)} onOpen={onOpen} mark />
          <Changes title="Over already, and worse" items={say(result.worse, model)} onOpen={onOpen} mark />
          <Changes title="Still over" items={say(result.remaining, model)} onOpen={onOpen} mark />
          <Changes title="Was over; can no longer be judged" items={say(result.hidden, site.model)} />
          <Changes title="Fixes" items={say(result.cured, site.model)} gone />
          {bank && bankChanged ? (
            <View className="px-[18px] pt-6">
              <BayDrawing system={system} bank={bank} />
            </View>
          ) : null}
          <BuyList partsList={partsList} />
          <ChangeList proposal={proposal} states={states} nameOf={(id) => nameIn(model, id)} />
          <View className="gap-3 px-[18px] pt-6">
            <Button
              label="Paper for the customer"
              kind="main"
              onPress={() => router.navigate(`/paper/${site.id}/${encodeURIComponent(proposal.id)}`)}
            />
            <Button
              label="Build on this proposal"
              kind="second"
              onPress={() => router.navigate(`/site/${site.id}/plan?on=${encodeURIComponent(proposal.id)}`)}
            />
            <Accept proposal={proposal} after={model} result={result} partsList={partsList} lost={lost} />
            {mayWrite && !proposal.accepted ? <Rename proposal={proposal} /> : null}
            {mayWrite && !proposal.accepted ? <Button label="Remove proposal" onPress={drop} /> : null}
          </View>
        </View>
      </ScrollView>
    </View>
  );
}

/** What it leaves over is where the next what-if begins: a successor for that part, upon this proposal. */
function useReplacing(site: OpenSite, system: System, proposal: Proposal) {
  const replaceable = new Set(
    eachPart(system)
      .filter(({ kind }) => aspectsOf(kind).length > 0)
      .map(({ part }) => part.id),
  );
  return (subject: string) =>
    replaceable.has(subject)
      ? () => {
          const query = new URLSearchParams({ part: subject, on: proposal.id }).toString();
          router.navigate(`/site/${site.id}/plan/replace?${query}`);
        }
      : null;
}

/** Said where the survey has changed underneath it. */
function Underneath({ states, faults }: Pick<Proposed, 'states' | 'faults'>) {
  const lost = states.filter(({ fault }) => fault !== null);
  const moved = states.filter((state) => state.fault === null && state.moved.length > 0);
  if (lost.length + moved.length + faults.length === 0) return null;
  return (
    <View className="gap-1 px-[18px] pb-4" role="alert" testID="rebase">
      <T look="head">
        {lost.length > 0
          ? `The survey has changed: ${lost.length} of ${states.length} changes no longer apply.`
          : moved.length > 0
            ? 'The survey has changed since this proposal was made.'
            : 'These changes contradict each other.'}
      </T>
      {faults.map((fault) => (
        <T key={fault}>{fault}</T>
      ))}
      <T look="fact">The rest is applied and checked below. Nothing is lost. See the changes.</T>
    </View>
  );
}

function Rename({ proposal }: { proposal: Proposal }) {
  const site = useOpenSite();
  const [title, setTitle] = useState<string | null>(null);
  if (title === null) return <Button label="Rename" onPress={() => setTitle(proposal.title)} />;
  const save = () => {
    if (title.trim()) setProposal(site, proposal.id, { title: title.trim() });
    setTitle(null);
  };
  return (
    <View className="gap-2">
      <TextField label="Title" value={title} onChangeText={setTitle} onSubmitEditing={save} autoFocus />
      <Button label="Save title" onPress={save} />
    </View>
  );
}

/** Change by change: what it sets, whether it still applies, what was surveyed anew underneath. */
function ChangeList({
  proposal,
  states,
  nameOf,
}: {
  proposal: Proposal;
  states: ChangeState[];
  nameOf(id: string): string;
}) {
  const site = useOpenSite();
  // What a customer has signed is not edited; a deviation is noted in the work order.
  const mayWrite = useMayWrite() && !proposal.accepted;
  const [open, setOpen] = useState(states.some(({ fault, moved }) => fault !== null || moved.length > 0));
  const changes = proposal.changes ?? [];
  const without = (index: number) => {
    setProposal(site, proposal.id, { changes: changes.filter((_, i) => i !== index) });
    offerUndo('Change removed', () => setProposal(site, proposal.id, { changes }));
  };
  const agree = (index: number) => {
    // The new survey is taken as the base: what it replaced then is no longer remembered.
    setProposal(site, proposal.id, {
      changes: changes.map((change, i) => {
        if (i !== index) return change;
        const { was: _, ...rest } = change;
        return rest;
      }),
    });
  };
  return (
    <View className="pt-6" testID="changes">
      <Row aria-expanded={open} onPress={() => setOpen(!open)}>
        <T
          look="station"
          className="min-w-0 flex-1"
        >{`${states.length} ${states.length === 1 ? 'change' : 'changes'}`}</T>
        <T look="fact">{open ? 'hide' : 'show'}</T>
      </Row>
      {open
        ? states.map(({ index, change, fault, moved }) => (
            <View key={index} className="gap-2 border-b border-rule px-[18px] py-3" testID="change">
              <View className="flex-row items-center gap-3">
                {fault ? <Mark verdict="unknown" /> : null}
                <T className={`min-w-0 flex-1 ${fault ? 'line-through' : ''}`}>{changeText(change, nameOf)}</T>
                {mayWrite ? (
                  <Button
                    label={WORDS.remove}
                    className="min-h-[48px]"
                    aria-label={`Remove change ${index + 1}`}
                    onPress={() => without(index)}
                  />
                ) : null}
              </View>
              {fault ? <T look="fact" className="text-ink">{`No longer applies: ${fault}.`}</T> : null}
              {fault === null
                ? moved.map(({ path, then, now }) => (
                    <View key={path} className="flex-row items-center gap-3">
                      <T look="fact" className="min-w-0 flex-1 text-ink">
                        {`${labelOf(change.at, path)}: was ${shown(then)} when this was made, surveyed ${shown(now)} since.`}
                      </T>
                    </View>
                  ))
                : null}
              {fault === null && moved.length > 0 && mayWrite ? (
                <Button label="Use the new survey as the base" className="min-h-[48px]" onPress={() => agree(index)} />
              ) : null}
            </View>
          ))
        : null}
    </View>
  );
}

const shown = (value: unknown) =>
  value === null || value === undefined ? 'not known' : typeof value === 'object' ? 'another' : String(value);

const labelOf = (at: string, path: string) => fieldSpec(at as never, path)?.label ?? path.replace(/[._]/g, ' ');

const MOST_SAID = 5;

/** "Bank: chemistry lfp, strings in parallel 3 and 6 more". */
function changeText({ op, at, id, value }: Change, nameOf: (id: string) => string): string {
  const kind = (KIND_WORDS[at as never] as string | undefined) ?? at;
  const given = recordOf(value);
  const name = id ? nameOf(id) : at === 'system' ? 'The system' : kind;
  if (op === 'remove') return `${name}: out`;
  if (op === 'add') return `${kind}: ${String(given.label ?? given.id ?? 'new')} added`;
  const said = Object.entries(given)
    .filter(([, member]) => member !== null && typeof member !== 'object')
    .map(([path, member]) => `${lowered(labelOf(at, path))} ${String(member)}`);
  const nested = Object.entries(given).filter(([, member]) => member !== null && typeof member === 'object').length;
  const more = Math.max(0, said.length - MOST_SAID) + nested;
  return `${name}: ${said.slice(0, MOST_SAID).join(', ') || 'settings and wiring'}${more > 0 && said.length > 0 ? ` and ${more} more` : ''}`;
}

interface ChangesProps {
  title: string;
  items: { finding: Finding; text: string }[];
  mark?: boolean;
  /** What is cured is struck out. */
  gone?: boolean;
  /** What opens when a finding is tapped; null where nothing can be specified anew. */
  onOpen?(subject: string): (() => void) | null;
}

function Changes({ title, items, mark = false, gone = false, onOpen }: ChangesProps) {
  if (items.length === 0) return null;
  return (
    <View className="pt-5">
      <Heading level={2} look="station" className="px-[18px]">
        {title}
      </Heading>
      {items.map(({ finding, text }) => {
        const open = onOpen?.(finding.subject);
        const inside = (
          <>
            {mark ? <Mark verdict={finding.verdict} /> : null}
            <T className={`min-w-0 flex-1 ${gone ? 'line-through' : ''}`}>{text}</T>
            {open ? <T look="fact">find a replacement</T> : null}
          </>
        );
        return open ? (
          <Row key={keyOf(finding)} onPress={open}>
            {inside}
          </Row>
        ) : (
          <View
            key={keyOf(finding)}
            className="min-h-[44px] flex-row items-center gap-3 border-b border-rule px-[18px] py-2"
          >
            {inside}
          </View>
        );
      })}
    </View>
  );
}
