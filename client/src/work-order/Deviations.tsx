import {
  isPartKind,
  partById,
  setMember,
  tellsParts,
  type Model,
  type PartRow,
  type Proposal,
  type Step,
} from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { FIELDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { setProposal } from '../data/proposals';
import { useMayWrite, usePerson } from '../data/session';
import { addDeviation } from '../data/work';
import { Attachments } from '../entry/Attachments';
import { FieldRow } from '../entry/FieldRow';
import { useEditor } from '../entry/useEditor';
import { Button } from '../ui/controls';
import { momentText } from '../ui/dates';
import { TextField } from '../ui/field';
import { T } from '../ui/text';
import { WORDS } from '../ui/words';

interface Deviation {
  step?: string | null;
  text?: string | null;
  by?: string | null;
  at?: string | null;
}
/** What was done otherwise, the first first. */
export const deviationsOf = ({ work }: Proposal): [id: string, deviation: Deviation][] =>
  Object.entries((work?.deviations ?? {}) as Record<string, Deviation | null>).flatMap(
    ([id, deviation]): [string, Deviation][] => (deviation ? [[id, deviation]] : []),
  );

/** What was done otherwise at this step, in words; and where another part was fitted, its figures, judged at once. */
export function Deviations({ step, proposal, after }: { step: Step; proposal: Proposal; after: Model }) {
  const site = useOpenSite();
  const person = usePerson();
  const mayWrite = useMayWrite();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const mine = deviationsOf(proposal).filter(([, deviation]) => deviation.step === step.key);
  const save = () => {
    addDeviation(site, proposal.id, step.key, text.trim(), person.name);
    setText('');
  };
  const parts = step.act === 'fit' ? step.parts : [];
  return (
    <View className="gap-2" testID="deviations">
      {mine.map(([id, deviation]) => (
        <T key={id} className="border-l-4 border-second pl-3">
          {`Done differently: ${deviation.text ?? ''} (${deviation.by ?? ''}${deviation.at ? `, ${momentText(deviation.at)}` : ''})`}
        </T>
      ))}
      {mayWrite && !open ? <Button label="Done differently" onPress={() => setOpen(true)} /> : null}
      {open ? (
        <View className="gap-3 border-l-4 border-second pl-3">
          <TextField label="What was done differently, and why" value={text} onChangeText={setText} />
          <Button label="Save note" kind="second" disabled={text.trim().length < 3} onPress={save} />
          <View className="-mx-[18px]">
            <Attachments subject={`work ${proposal.id} ${step.key}`} />
          </View>
          {parts.map((id) => (
            <Fitted key={id} partId={id} proposal={proposal} after={after} />
          ))}
          <Button label={WORDS.close} kind="plain" className="self-start px-0" onPress={() => setOpen(false)} />
        </View>
      ) : null}
    </View>
  );
}

/** "Fitted 50 mm2 instead": the proposal takes what was really fitted, and order and verdicts follow at once. */
function Fitted({ partId, proposal, after }: { partId: string; proposal: Proposal; after: Model }) {
  const site = useOpenSite();
  const placed = partById(after.system, partId);
  const row: PartRow = {
    id: partId,
    kind: placed?.kind ?? 'runs',
    body: placed?.part ?? {},
    evidence: {},
    position: 0,
    revision: 0,
  };
  const specs = (FIELDS[row.kind] ?? []).filter(
    ({ path }) =>
      (isPartKind(row.kind) && tellsParts(row.kind, path)) || path === 'length_m' || path.startsWith('protection'),
  );
  const { open, editor } = useEditor({
    site,
    row,
    specs,
    quiet: true,
    onSave: (set) => {
      const value: Record<string, unknown> = {};
      for (const [path, member] of Object.entries(set))
        if (!path.startsWith('evidence/') && member !== null) setMember(value, path, member);
      if (Object.keys(value).length === 0 || !placed) return;
      const single = placed.kind === 'bank' || placed.kind === 'monitor';
      setProposal(site, proposal.id, {
        changes: [
          ...(proposal.changes ?? []),
          { op: 'set', at: placed.kind, ...(single ? {} : { id: partId }), value },
        ],
      });
    },
  });
  if (!placed) return null;
  return (
    <View className="-mx-[18px]">
      <T look="head" className="px-[18px] pt-2">
        Was another one fitted? Enter what it really is:
      </T>
      {specs.map((spec) => (
        <FieldRow key={spec.path} row={row} spec={spec} onOpen={() => open(spec.path)} />
      ))}
      {editor}
    </View>
  );
}
