import { useState, type PropsWithChildren, type ReactNode } from 'react';
import { View } from 'react-native';
import { Button } from './controls';
import { T } from './text';

interface ToldOnceProps extends PropsWithChildren {
  /** What is told, to be copied. */
  text: string;
  /** What is copied: "Copy address". */
  copy: string;
  /** Who may have it, and what they can do with it. */
  says: string;
  /** Between what is told and what is said of it: a code for a camera, a line more. */
  shown?: ReactNode;
  testID: string;
}

/** An address or a token that is shown once: to copy, with what it opens. */
export function ToldOnce({ text, copy, says, shown, testID, children }: ToldOnceProps) {
  const [copied, setCopied] = useState<string | null>(null);
  return (
    <View className="gap-3 bg-well px-4 py-4" role="status" testID={testID}>
      <T look="mono" selectable>
        {text}
      </T>
      {shown}
      <T look="fact">{says}</T>
      <View className="flex-row flex-wrap gap-3">
        <Button
          label={copied === text ? 'Copied' : copy}
          className="grow"
          onPress={() => void navigator.clipboard?.writeText(text).then(() => setCopied(text))}
        />
        {children}
      </View>
    </View>
  );
}
