import type { InvitedAnswer, PeopleAnswer, Role } from '@true-lantern/wire';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import {
  changeLicence,
  changeRole,
  inviteSomebody,
  passwordLink,
  removePerson,
  takeBackInvitation,
  useAskAgain,
  useAudit,
  useInvitations,
  usePeople,
} from '../data/people';
import { usePerson, useSession } from '../data/session';
import { useAttempt } from '../ui/attempt';
import { Button, Chip } from '../ui/controls';
import { TextField } from '../ui/field';
import { momentText } from '../ui/dates';
import { Page } from '../ui/page';
import { Qr } from '../ui/qr';
import { Heading, T } from '../ui/text';
import { WORDS } from '../ui/words';

const ROLES: { role: Role; may: string }[] = [
  { role: 'owner', may: 'everything, including people and firm' },
  { role: 'technician', may: 'edit sites and shelf' },
  { role: 'reader', may: 'view only' },
];

/** For owners: who belongs to the firm, who may come in, and what was done. */
export function PeopleScreen() {
  const me = usePerson();
  const owner = me.role === 'owner';
  const people = usePeople(owner);
  const { made: link, trouble, attempt, forget } = useAttempt<InvitedAnswer>(useAskAgain());
  return (
    <Page title="People" onBack={() => router.navigate('/firm')}>
      {owner ? null : <T className="px-[18px] py-6">Only an owner can manage people.</T>}
      {trouble ? (
        <T look="head" role="alert" className="px-[18px] pt-4">
          {trouble}
        </T>
      ) : null}
      {link ? <Link link={link} onDone={forget} /> : null}
      {people.error && !people.data ? (
        <T className="px-[18px] py-4 text-soft">Saved on the server. They will load when you have a signal.</T>
      ) : null}
      {people.data?.people.map((person) => (
        <PersonRow key={person.id} person={person} me={person.id === me.id} attempt={attempt} />
      ))}
      {owner ? (
        <>
          <Invite attempt={attempt} />
          <Audit />
        </>
      ) : null}
    </Page>
  );
}

/** Steps on AC can be ticked by whoever has one. */
function Licence({ person, attempt }: { person: PeopleAnswer['people'][number]; attempt: Attempt }) {
  const [text, setText] = useState(person.licence ?? '');
  return (
    <View className="gap-2">
      <TextField label="Licence for AC work, as issued" value={text} onChangeText={setText} />
      <Button
        label={text.trim() === '' ? 'No licence' : 'Save licence'}
        disabled={text.trim() === (person.licence ?? '')}
        onPress={() => void attempt(async () => changeLicence(person.id, text.trim()))}
      />
    </View>
  );
}

type Attempt = (act: () => Promise<InvitedAnswer | undefined>) => Promise<void>;

function PersonRow({ person, me, attempt }: { person: PeopleAnswer['people'][number]; me: boolean; attempt: Attempt }) {
  const [open, setOpen] = useState(false);
  const [leaving, setLeaving] = useState(false);
  return (
    <View className="gap-2 border-b border-rule px-[18px] py-3" testID={`person-${person.name}`}>
      <View className="flex-row items-center justify-between gap-3">
        <View className="min-w-0 flex-1">
          <T look="head">{person.name}</T>
          <T look="fact">
            {person.role}, {person.email}
            {person.licence ? `, licensed: ${person.licence}` : ''}
          </T>
        </View>
        <Button
          label={open ? WORDS.close : 'Change'}
          aria-label={`Change ${person.name}`}
          kind="plain"
          onPress={() => setOpen(!open)}
        />
      </View>
      {open ? (
        <View className="gap-3 pb-2">
          <View role="radiogroup" aria-label={`Role of ${person.name}`} className="flex-row flex-wrap gap-2">
            {ROLES.map(({ role }) => (
              <Chip
                key={role}
                label={role}
                on={person.role === role}
                onPress={() => void attempt(() => changeRole(person.id, role))}
              />
            ))}
          </View>
          <Licence person={person} attempt={attempt} />
          <Button label="Password reset link" onPress={() => void attempt(() => passwordLink(person.id))} />
          {me ? null : leaving ? (
            <View className="gap-2" role="alert">
              <T>
                {person.name} loses access at once. What they recorded stays. Their name can stay in the history or
                become &quot;a former member&quot;.
              </T>
              <View className="flex-row flex-wrap gap-2">
                <Button label={WORDS.cancel} kind="main" className="grow" onPress={() => setLeaving(false)} />
                <Button
                  label="Remove, keep name"
                  className="grow"
                  onPress={() => void attempt(() => removePerson(person.id, false))}
                />
                <Button
                  label="Remove and erase name"
                  className="grow"
                  onPress={() => void attempt(() => removePerson(person.id, true))}
                />
              </View>
            </View>
          ) : (
            <Button label={`Remove ${person.name}`} kind="plain" onPress={() => setLeaving(true)} />
          )}
        </View>
      ) : null}
    </View>
  );
}

function Invite({ attempt }: { attempt: Attempt }) {
  const [role, setRole] = useState<Role>('technician');
  const [email, setEmail] = useState('');
  const { session } = useSession();
  const { data } = useInvitations(true);
  return (
    <View className="gap-3 px-[18px] pt-7">
      <Heading level={2} look="station">
        Invite somebody
      </Heading>
      <View role="radiogroup" aria-label="Role" className="flex-row flex-wrap gap-2">
        {ROLES.map((one) => (
          <Chip key={one.role} label={one.role} on={role === one.role} onPress={() => setRole(one.role)} />
        ))}
      </View>
      <T look="fact">{ROLES.find((one) => one.role === role)?.may}. The link works once, for seven days.</T>
      {session?.mails ? (
        <TextField
          label="E-mail it to (optional)"
          value={email}
          onChangeText={setEmail}
          inputMode="email"
          autoCapitalize="none"
        />
      ) : null}
      <Button label="Create link" kind="main" onPress={() => void attempt(() => inviteSomebody(role, email.trim()))} />
      {data?.invitations.map(({ id, role: as, person, expiresAt }) => (
        <View key={id} className="flex-row items-center justify-between gap-3 border-t border-rule pt-2">
          <T look="fact" className="min-w-0 flex-1">
            {person ? `Password reset for ${person}` : `Open link for a ${as}`}, until {momentText(expiresAt)}
          </T>
          <Button
            label="Cancel link"
            kind="plain"
            onPress={() => void attempt(() => takeBackInvitation(id).then(() => undefined))}
          />
        </View>
      ))}
    </View>
  );
}

/** The link, told once: to send, or to point a phone at. */
function Link({ link, onDone }: { link: InvitedAnswer; onDone(): void }) {
  const [copied, setCopied] = useState(false);
  const copy = () => {
    void navigator.clipboard?.writeText(link.address).then(() => setCopied(true));
  };
  return (
    <View className="gap-3 border-b-2 border-ink bg-well px-[18px] py-4" testID="link" role="status">
      <T look="head">{link.person ? `Password reset for ${link.person}` : `For one ${link.role}, once`}</T>
      <T look="mono" selectable testID="link-address">
        {link.address}
      </T>
      <Qr code={link.qr} label="QR code of the link" />
      {link.mailed ? <T className="font-semi">{`Mailed to ${link.mailed}.`}</T> : null}
      <T look="fact">It is shown only once. Anyone with the link can use it: give it to that person only.</T>
      <View className="flex-row gap-3">
        <Button label={copied ? 'Copied' : 'Copy link'} className="flex-1" onPress={copy} />
        <Button label={WORDS.done} kind="main" className="flex-1" onPress={onDone} />
      </View>
    </View>
  );
}

function Audit() {
  const [open, setOpen] = useState(false);
  const { data } = useAudit(open);
  return (
    <View className="px-[18px] pt-7">
      {open ? (
        <Heading level={2} look="station">
          Activity of the past year
        </Heading>
      ) : (
        <Button label="Activity" onPress={() => setOpen(true)} />
      )}
      {open
        ? data?.entries.map(({ person, what, about, at }, i) => (
            <View key={i} className="border-b border-rule py-2">
              <T>
                {person ?? 'Somebody'} {what}
                {about ? `: ${about}` : ''}
              </T>
              <T look="small">{momentText(at)}</T>
            </View>
          ))
        : null}
    </View>
  );
}
