import {
  check,
  counted,
  hashOfBytes,
  leftAs,
  makeRecord,
  numberOf,
  takenAt,
  type Proposal,
  type Model,
  type Visit,
  testKey,
  type Proved,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { readBlob } from '../data/blobs';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { becomeFound, overtakenBy, ticksOf } from '../data/work';
import { Button } from '../ui/controls';
import { TextField } from '../ui/field';
import { Marked } from '../ui/mark';
import { SignaturePad } from '../ui/signature';
import { Heading, T } from '../ui/text';

interface Props {
  site: OpenSite;
  visit: Visit;
  proposal: Proposal | null;
  /** The system that was proved. */
  after: Model;
  proved: readonly Proved[];
  write(fields: Record<string, unknown>): void;
}

/** Who was there and why, with what it was measured; two names drawn by finger; then the proposal is the system as found. */
export function Signing({ site, visit, proposal, after, proved, write }: Props) {
  const person = usePerson();
  const mayWrite = useMayWrite();
  const [firm, setFirm] = useState('');
  const [customer, setCustomer] = useState('');
  const [customerName, setCustomerName] = useState('');
  const [signing, setSigning] = useState(false);
  if (!mayWrite) return null;
  const outside = proved.filter(({ judged, reason }) => judged === 'outside' && !reason);
  const open = proved.filter(({ reading, untested }) => !reading && !untested);
  const overtaken = proposal ? overtakenBy(site, proposal.id, after.system) : [];
  const ticked = proposal ? Object.keys(ticksOf(proposal)).length : 0;
  const sign = async () => {
    setSigning(true);
    const at = new Date().toISOString();
    const left = leftAs(after.system, check(after));
    const signed = {
      firm: { name: person.name, at, strokes: firm },
      ...(customer ? { customer: { name: customerName.trim(), at, strokes: customer } } : {}),
    };
    // Made once, here, of what is on the screen: whatever is found or fitted later changes nothing in it.
    const photos = await hashesOf(takenAt(site.file.attachments ?? [], visit).map(({ id }) => id));
    const record = makeRecord(site.file, after, visit, proved, { at, signed, photos });
    write({
      'left.over': left.over,
      'left.settings': left.settings,
      ...Object.fromEntries(Object.entries(signed).map(([who, entry]) => [`signed.${who}`, entry])),
      record,
      recordHash: numberOf(record),
    });
    if (proposal) becomeFound(site, proposal, after, person.name);
    router.navigate(`/site/${site.id}/visits`);
  };
  return (
    <View className="gap-3 px-[18px] pt-8" testID="signing">
      <Heading level={2} look="lead">
        Sign off
      </Heading>
      <Note label="People present" field="people" visit={visit} write={write} />
      <Note label="Reason for the visit" field="why" visit={visit} write={write} />
      <Note label="Work done" field="done" visit={visit} write={write} />
      <Note label="Instruments" field="instruments" visit={visit} write={write} />
      {outside.length > 0 ? (
        <Marked verdict="over">{`${counted(outside.length, 'reading')} outside its band without a reason: give a reason or measure again.`}</Marked>
      ) : null}
      {open.length > 0 ? (
        <View className="gap-2">
          <Marked verdict="unknown">{`${counted(open.length, 'measurement')} not taken, without a reason.`}</Marked>
          <OneReason open={open} write={write} />
        </View>
      ) : null}
      {proposal && ticked === 0 ? <Marked verdict="note">No step of its work order is ticked.</Marked> : null}
      {overtaken.length > 0 ? (
        <Marked verdict="note">
          {`${overtaken.map(({ title }) => title).join(', ')}: no longer applies once this is installed, and will be closed.`}
        </Marked>
      ) : null}
      <SignaturePad label={`For the firm: ${person.name}`} strokes={firm} onChange={setFirm} />
      <TextField label="Customer's name" value={customerName} onChangeText={setCustomerName} />
      <SignaturePad label="For the customer" strokes={customer} onChange={setCustomer} />
      <Button
        label={proposal ? 'Sign. This becomes the current system.' : 'Sign the visit'}
        kind="main"
        className="min-h-[64px]"
        disabled={signing || firm === '' || outside.length > 0 || open.length > 0}
        onPress={() => void sign()}
      />
      {firm === '' ? <T look="fact">Sign with a finger in the frame above.</T> : null}
    </View>
  );
}

/** The hash of each photo that is on this device; of one that is not, none. */
async function hashesOf(ids: readonly string[]): Promise<Record<string, string>> {
  const found = await Promise.all(
    ids.map(async (id): Promise<[string, string][]> => {
      const blob = await readBlob(id).catch(() => null);
      return blob ? [[id, hashOfBytes(new Uint8Array(await blob.arrayBuffer()))]] : [];
    }),
  );
  return Object.fromEntries(found.flat());
}

function Note({
  label,
  field,
  visit,
  write,
}: {
  label: string;
  field: 'people' | 'why' | 'done' | 'instruments';
  visit: Visit;
  write: Props['write'];
}) {
  const [text, setText] = useState(visit[field] ?? '');
  const keep = () => {
    if (text.trim() !== (visit[field] ?? '')) write({ [field]: text.trim() || null });
  };
  return <TextField label={label} value={text} onChangeText={setText} onBlur={keep} multiline={field === 'done'} />;
}

/** One reason for all that is left: the sun went, the customer had to leave. */
function OneReason({ open, write }: { open: readonly Proved[]; write: Props['write'] }) {
  const [why, setWhy] = useState('');
  return (
    <>
      <TextField label="Why were they not measured?" value={why} onChangeText={setWhy} />
      <Button
        label={`Use for all ${open.length}`}
        disabled={why.trim().length < 3}
        onPress={() => write(Object.fromEntries(open.map(({ test }) => [`untested.${testKey(test.id)}`, why.trim()])))}
      />
    </>
  );
}
