import { termFor } from '@true-lantern/core/base';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from './controls';
import { TermPicture } from './term-drawing';
import { T } from './text';

/** What a term of the trade means, at the word itself: two sentences and a drawing, opened by a tap. */
export function TermHelp({ of }: { of: string }) {
  const [open, setOpen] = useState(false);
  const term = termFor(of);
  if (!term) return null;
  return (
    <View className="gap-2">
      <Button
        kind="plain"
        className="self-start"
        label={open ? 'Hide help' : `What is this? ${term.name}`}
        aria-expanded={open}
        onPress={() => setOpen(!open)}
      />
      {open ? (
        <View className="flex-row items-start gap-4 border-l-4 border-ink pl-3" testID={`term-${term.id}`}>
          <View className="min-w-0 flex-1 gap-1">
            <T look="head">{term.name}</T>
            <T>{term.is}</T>
            <T>{term.find}</T>
          </View>
          <TermPicture drawing={term.drawing} />
        </View>
      ) : null}
    </View>
  );
}
