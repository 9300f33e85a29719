import type { PartRow } from '@true-lantern/core';
import { useState } from 'react';
import { Image, ScrollView, useWindowDimensions, View } from 'react-native';
import { useAttachment } from '../data/attachments';
import { Button } from '../ui/controls';
import { Over } from '../ui/ground';
import { useKeys } from '../ui/keys';
import { T } from '../ui/text';
import { WORDS } from '../ui/words';
import { webStyle } from '../ui/web-only';

const STEPS = [1, 2, 4] as const;

/** A photo over the whole screen; larger by a button (or two fingers), moved by dragging. */
export function PhotoViewer({
  siteId,
  row,
  onClose,
  onRemove,
}: {
  siteId: string;
  row: PartRow;
  onClose(): void;
  onRemove: (() => void) | null;
}) {
  const { url, trouble } = useAttachment(siteId, row.id, 'whole');
  const { width, height } = useWindowDimensions();
  const [zoom, setZoom] = useState(0);
  const scale = STEPS[zoom] ?? 1;
  useKeys(
    {
      Escape: onClose,
      '+': () => setZoom((now) => Math.min(STEPS.length - 1, now + 1)),
      '-': () => setZoom((now) => Math.max(0, now - 1)),
    },
    true,
  );
  return (
    <Over onClose={onClose}>
      <View className="flex-1" style={{ backgroundColor: '#14120D' }} testID="viewer">
        <ScrollView
          className="flex-1"
          style={webStyle({ touchAction: 'pan-x pan-y pinch-zoom' })}
          contentContainerStyle={{ width: width * scale }}
          horizontal
        >
          <ScrollView>
            {url ? (
              <Image
                source={{ uri: url }}
                resizeMode="contain"
                style={{ width: width * scale, height: (height - 90) * scale }}
                alt={String(row.body.note ?? 'Photo')}
              />
            ) : (
              <T style={{ color: '#F4E9D0', padding: 18, width }}>{trouble ?? 'Reading ...'}</T>
            )}
          </ScrollView>
        </ScrollView>
        <View className="flex-row gap-2 bg-paper px-3 py-3">
          <Button label={WORDS.close} kind="main" className="flex-1 px-2" onPress={onClose} />
          <Button
            label="Larger"
            className="flex-1 px-2"
            disabled={zoom === STEPS.length - 1}
            onPress={() => setZoom(zoom + 1)}
          />
          <Button label="Smaller" className="flex-1 px-2" disabled={zoom === 0} onPress={() => setZoom(zoom - 1)} />
          {onRemove ? <Button label={WORDS.remove} className="flex-1 px-2" onPress={onRemove} /> : null}
        </View>
      </View>
    </Over>
  );
}
