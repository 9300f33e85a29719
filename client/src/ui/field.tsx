import { useId } from 'react';
import { TextInput, View, type TextInputProps } from 'react-native';
import { useGround } from './ground';
import { T } from './text';

/** A labelled line of text entry; what is wrong stands under it. */
export function TextField({ label, error, ...rest }: TextInputProps & { label: string; error?: string | undefined }) {
  const { colours } = useGround();
  const id = useId();
  return (
    <View className="gap-1">
      <T look="fact" nativeID={id}>
        {label}
      </T>
      <TextInput
        aria-labelledby={id}
        aria-invalid={error !== undefined}
        placeholderTextColor={colours.soft}
        className="min-h-[56px] rounded-[4px] border-2 border-ink bg-paper px-3 font-sans text-station text-ink"
        {...rest}
      />
      {error ? (
        <T look="fact" role="alert" className="font-semi text-ink">
          {error}
        </T>
      ) : null}
    </View>
  );
}
