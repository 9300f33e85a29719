import { messageOf } from '@true-lantern/core/base';
import { useState } from 'react';
import { View } from 'react-native';
import { useOutbox } from '../data/outbox';
import { enterByPasskey, isGivenUp, passkeysWork } from '../data/passkeys';
import { useSession } from '../data/session';
import { Button } from '../ui/controls';
import { TextField } from '../ui/field';
import { T } from '../ui/text';
import { Door } from './Form';

/** What is wrong with a sign-in before anybody is asked; empty where nothing is. */
export const faultsOfSignIn = (email: string, password: string): { email?: string; password?: string } => ({
  ...(email.trim() === ''
    ? { email: 'Enter your e-mail address.' }
    : /^[^\s@]+@[^\s@]+$/.test(email.trim())
      ? {}
      : { email: 'That is not an e-mail address.' }),
  ...(password === '' ? { password: 'Enter your password.' } : {}),
});

/** The door: password, passkey, and the demo's own sign-in where there is one. */
export function SignIn() {
  const { session, enter, taken } = useSession();
  const waiting = useOutbox().entries.length;
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [tried, setTried] = useState(false);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const faults = tried ? faultsOfSignIn(email, password) : {};
  const go = async (as: string, by: string) => {
    setBusy(true);
    try {
      await enter(as, by);
    } catch (error) {
      setTrouble(messageOf(error));
    }
    setBusy(false);
  };
  const byKey = async () => {
    setTrouble(null);
    try {
      await taken(await enterByPasskey());
    } catch (error) {
      if (!isGivenUp(error)) setTrouble(messageOf(error));
    }
  };
  const submit = () => {
    setTried(true);
    if (Object.keys(faultsOfSignIn(email, password)).length === 0) void go(email.trim(), password);
  };
  const demo = session?.demo;
  return (
    <Door title="True Lantern">
      <T look="lead">What reaches its limit first, by how much, and the smallest fix.</T>
      {waiting > 0 ? (
        <T className="font-semi" testID="waits-here">
          {waiting === 1
            ? 'One entry is waiting on this device. It is sent when its author signs in.'
            : `${waiting} entries are waiting on this device. They are sent when their author signs in.`}
        </T>
      ) : null}
      <TextField
        label="E-mail"
        value={email}
        onChangeText={setEmail}
        error={faults.email}
        inputMode="email"
        autoComplete="email"
        autoCapitalize="none"
        onSubmitEditing={submit}
      />
      <TextField
        label="Password"
        value={password}
        onChangeText={setPassword}
        error={faults.password}
        secureTextEntry
        autoComplete="current-password"
        onSubmitEditing={submit}
      />
      {trouble ? (
        <T look="head" role="alert">
          {trouble}
        </T>
      ) : null}
      <Button label={busy ? 'Signing in ...' : 'Sign in'} kind="main" onPress={submit} disabled={busy} />
      {passkeysWork() ? <Button label="Use a passkey" disabled={busy} onPress={() => void byKey()} /> : null}
      {demo ? (
        <View className="gap-2 border-t border-rule pt-5">
          <T look="fact">This is the demo of Saltmarsh & Daughter, with made-up sites.</T>
          <Button label="Look around the demo" onPress={() => void go(demo.email, demo.password)} />
        </View>
      ) : null}
    </Door>
  );
}
