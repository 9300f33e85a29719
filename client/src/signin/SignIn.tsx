import { yupResolver } from '@hookform/resolvers/yup';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import { ScrollView, View } from 'react-native';
import { object, string } from 'yup';
import { useSession } from '../data/session';
import { Button } from '../kit/controls';
import { TextField } from '../kit/field';
import { Lantern } from '../kit/lantern';
import { Heading, T } from '../kit/text';

const schema = object({
  email: string().trim().required('Which e-mail address?').email('That is no e-mail address.'),
  password: string().required('Which password?'),
});

export function SignIn() {
  const { session, enter } = useSession();
  const [trouble, setTrouble] = useState<string | null>(null);
  const { control, handleSubmit, formState } = useForm({
    resolver: yupResolver(schema),
    defaultValues: { email: '', password: '' },
  });
  const go = (email: string, password: string) =>
    enter(email, password).catch((error: Error) => setTrouble(error.message));
  const submit = handleSubmit(({ email, password }) => go(email, password));
  const demo = session?.demo;
  return (
    <ScrollView role="main" contentContainerClassName="grow justify-center px-[18px] py-10">
      <View className="w-full max-w-[420px] self-center gap-5">
        <View className="flex-row items-center gap-3">
          <Lantern size={44} />
          <Heading look="lead" className="font-bold">
            True Lantern
          </Heading>
        </View>
        <T look="lead">What gives out first, by how much, and the smallest cure.</T>
        <Controller
          control={control}
          name="email"
          render={({ field, fieldState }) => (
            <TextField
              label="E-mail"
              value={field.value}
              onChangeText={field.onChange}
              error={fieldState.error?.message}
              inputMode="email"
              autoComplete="email"
              autoCapitalize="none"
              onSubmitEditing={submit}
            />
          )}
        />
        <Controller
          control={control}
          name="password"
          render={({ field, fieldState }) => (
            <TextField
              label="Password"
              value={field.value}
              onChangeText={field.onChange}
              error={fieldState.error?.message}
              secureTextEntry
              autoComplete="current-password"
              onSubmitEditing={submit}
            />
          )}
        />
        {trouble ? (
          <T look="head" role="alert">
            {trouble}
          </T>
        ) : null}
        <Button
          label={formState.isSubmitting ? 'Signing in ...' : 'Sign in'}
          kind="main"
          onPress={submit}
          disabled={formState.isSubmitting}
        />
        {demo ? (
          <View className="gap-2 border-t border-rule pt-5">
            <T look="fact">This is the demo of Saltmarsh & Daughter, with made-up sites.</T>
            <Button label="Look around the demo" onPress={() => void go(demo.email, demo.password)} />
          </View>
        ) : null}
      </View>
    </ScrollView>
  );
}
