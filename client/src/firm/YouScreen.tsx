import { messageOf } from '@true-lantern/core/base';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { ApiError } from '../data/api';
import { fileName, saveTextFile } from '../data/files';
import { changePassword, endSession, personData, signOutEverywhere, useAskAgain, useSessions } from '../data/people';
import { addPasskey, isGivenUp, passkeysWork, removePasskey, usePasskeys } from '../data/passkeys';
import { usePerson, useSession } from '../data/session';
import { Button } from '../ui/controls';
import { momentText } from '../ui/dates';
import { TextField } from '../ui/field';
import { Page } from '../ui/page';
import { Heading, T } from '../ui/text';
import { WORDS } from '../ui/words';

/** One's own password, where one is signed in, and what is kept about one. */
export function YouScreen() {
  const me = usePerson();
  const { leave } = useSession();
  const askAgain = useAskAgain();
  const sessions = useSessions();
  const everywhere = async () => {
    await signOutEverywhere();
    await leave();
  };
  return (
    <Page title={me.name} onBack={() => router.navigate('/firm')}>
      <T look="fact" className="px-[18px] pt-4">
        {me.role} of {me.firm.name}, {me.email}
      </T>
      <Password />
      <Passkeys />
      <Heading level={2} look="station" className="px-[18px] pb-2 pt-7">
        Where you are signed in
      </Heading>
      {sessions.error && !sessions.data ? (
        <T className="px-[18px] text-soft">Saved on the server. It will load when you have a signal.</T>
      ) : null}
      {sessions.data?.sessions.map(({ id, since, agent, here }) => (
        <View
          key={id}
          className="min-h-[56px] flex-row items-center justify-between gap-3 border-b border-rule px-[18px] py-2"
          testID="session"
        >
          <View className="min-w-0 flex-1">
            <T>{here ? 'Here' : agentText(agent)}</T>
            <T look="small">{since ? `since ${momentText(since)}` : 'from before the last update'}</T>
          </View>
          {here ? null : (
            <Button label="End session" kind="plain" onPress={() => void endSession(id).then(askAgain, askAgain)} />
          )}
        </View>
      ))}
      <View className="gap-3 px-[18px] pt-4">
        <Button label="Sign out everywhere" onPress={() => void everywhere().catch(askAgain)} />
        <Button
          label="Export my data"
          kind="plain"
          onPress={() =>
            void personData(me.id).then(
              (data) => saveTextFile(`${fileName(me.name)}-data.json`, JSON.stringify(data, null, 2)),
              () => undefined,
            )
          }
        />
      </View>
    </Page>
  );
}

/** Keys that let this person in without the password. */
function Passkeys() {
  const { data, refetch } = usePasskeys();
  const [trouble, setTrouble] = useState<string | null>(null);
  const attempt = async (act: () => Promise<unknown>) => {
    setTrouble(null);
    try {
      await act();
    } catch (error) {
      if (!isGivenUp(error)) setTrouble(messageOf(error));
    }
    await refetch();
  };
  return (
    <View className="gap-3 px-[18px] pt-7">
      <Heading level={2} look="station">
        Passkeys
      </Heading>
      <T look="fact">Sign in with your screen lock or a security key (passkey), without the password.</T>
      {data?.passkeys.map(({ id, name, createdAt, usedAt }) => (
        <View
          key={id}
          className="flex-row items-center justify-between gap-3 border-b border-rule py-2"
          testID="passkey"
        >
          <View className="min-w-0 flex-1">
            <T>{name}</T>
            <T look="small">
              {usedAt ? `last used ${momentText(usedAt)}` : `since ${momentText(createdAt)}, not used yet`}
            </T>
          </View>
          <Button
            label={WORDS.remove}
            aria-label={`Remove ${name}`}
            kind="plain"
            onPress={() => void attempt(() => removePasskey(id))}
          />
        </View>
      ))}
      {trouble ? (
        <T look="head" role="alert">
          {trouble}
        </T>
      ) : null}
      {passkeysWork() ? (
        <Button
          label="Add a passkey"
          onPress={() => void attempt(() => addPasskey(agentText(globalThis.navigator?.userAgent ?? '')))}
        />
      ) : (
        <T look="fact">Passkeys need a secure (https) page.</T>
      )}
    </View>
  );
}

function Password() {
  const { taken } = useSession();
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const [said, setSaid] = useState<{ text: string; wrong: boolean } | null>(null);
  const change = async () => {
    try {
      await taken(await changePassword(old, next));
      setOld('');
      setNext('');
      setSaid({ text: 'Password changed. Sign in again on your other devices.', wrong: false });
    } catch (error) {
      const fault = error instanceof ApiError ? error.faults[0] : undefined;
      setSaid({ text: fault ? `It ${fault.message}.` : messageOf(error), wrong: true });
    }
  };
  return (
    <View className="gap-3 px-[18px] pt-6">
      <Heading level={2} look="station">
        Password
      </Heading>
      <TextField
        label="Current password"
        value={old}
        onChangeText={setOld}
        secureTextEntry
        autoComplete="current-password"
      />
      <TextField
        label="New password (10 characters or more)"
        value={next}
        onChangeText={setNext}
        secureTextEntry
        autoComplete="new-password"
      />
      {said ? (
        <T look="head" role={said.wrong ? 'alert' : 'status'}>
          {said.text}
        </T>
      ) : null}
      <Button label="Change password" disabled={old === '' || next === ''} onPress={() => void change()} />
    </View>
  );
}

/** What kind of device a browser says it is, in a word or two; no more of it means anything to a person. */
export function agentText(agent: string): string {
  const system = /iPhone|iPad/.exec(agent)?.[0] ?? /Android|Windows|Mac OS|Linux/.exec(agent)?.[0] ?? 'unknown device';
  const browser = /Firefox|Edg|Chrome|Safari/.exec(agent)?.[0];
  return browser ? `${browser === 'Edg' ? 'Edge' : browser} on ${system}` : system;
}
