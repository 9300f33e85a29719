import { messageOf } from '@true-lantern/core/base';
import { useState, type PropsWithChildren } from 'react';
import { ScrollView, View, type TextInputProps } from 'react-native';
import { ApiError } from '../data/api';
import { Button } from '../ui/controls';
import { TextField } from '../ui/field';
import { Lantern } from '../ui/lantern';
import { Heading, T } from '../ui/text';

/** A field of a form at the door. */
export interface FormField extends Pick<
  TextInputProps,
  'secureTextEntry' | 'autoComplete' | 'inputMode' | 'autoCapitalize'
> {
  name: string;
  label: string;
}

/** The few fields of a door: what the server finds wrong stands under its own field. */
export function DoorForm({
  title,
  text,
  fields,
  act,
  onSend,
}: {
  title: string;
  text: string;
  fields: readonly FormField[];
  act: string;
  onSend(values: Record<string, string>): Promise<void>;
}) {
  const [values, setValues] = useState<Record<string, string>>({});
  const [faults, setFaults] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const send = async () => {
    setBusy(true);
    setTrouble(null);
    setFaults({});
    try {
      await onSend(values);
    } catch (error) {
      const named = error instanceof ApiError ? error.faults : [];
      setFaults(Object.fromEntries(named.map(({ path, message }) => [path, `It ${message}.`])));
      if (named.length === 0) setTrouble(messageOf(error));
    }
    setBusy(false);
  };
  return (
    <Door title={title}>
      <T>{text}</T>
      {fields.map(({ name, label, ...rest }) => (
        <TextField
          key={name}
          label={label}
          value={values[name] ?? ''}
          onChangeText={(value) => setValues((known) => ({ ...known, [name]: value }))}
          error={faults[name]}
          onSubmitEditing={() => void send()}
          {...rest}
        />
      ))}
      {trouble ? (
        <T look="head" role="alert">
          {trouble}
        </T>
      ) : null}
      <Button label={busy ? 'One moment ...' : act} kind="main" disabled={busy} onPress={() => void send()} />
    </Door>
  );
}

/** Around the sign-in forms: the lantern, what this is, and the questions. */
export function Door({ title, children }: PropsWithChildren<{ title: string }>) {
  return (
    <ScrollView role="main" contentContainerClassName="grow justify-center px-[18px] py-10">
      <View className="w-full max-w-[420px] gap-5 self-center">
        <View className="flex-row items-center gap-3">
          <Lantern size={44} />
          <Heading look="lead" className="min-w-0 flex-1 font-bold">
            {title}
          </Heading>
        </View>
        {children}
      </View>
    </ScrollView>
  );
}

/** A person's name. */
export const NAME: FormField = { name: 'name', label: 'Your name', autoComplete: 'name' };
/** An e-mail address, by which one signs in. */
export const EMAIL: FormField = {
  name: 'email',
  label: 'E-mail',
  inputMode: 'email',
  autoComplete: 'email',
  autoCapitalize: 'none',
};
/** A password that is being made. */
export const NEW_PASSWORD: FormField = {
  name: 'password',
  label: 'Password (10 characters or more)',
  secureTextEntry: true,
  autoComplete: 'new-password',
};
