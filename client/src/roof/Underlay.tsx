import { boundsOf, cornersOf, laidFlat, type Roof } from '@true-lantern/core';
import { useEffect, useState } from 'react';
import { Image, View } from 'react-native';
import { addPhoto, useAttachment } from '../data/attachments';
import { chooseFile } from '../data/files';
import { newId } from '../data/ids';
import type { OpenSite } from '../data/site';
import { Button, Chip } from '../ui/controls';
import { CornersSheet } from '../ui/corners';
import { T } from '../ui/text';
import type { Scale } from './scale';

type Underlay = NonNullable<Roof['underlay']>;

/** Strong enough to be known again, weak enough for the lines on it. */
const OPACITY = 0.75;

/** A photo of the roof, laid flat under its drawing. */
export function UnderlayPicture({
  siteId,
  roof,
  underlay,
  scale,
}: {
  siteId: string;
  roof: Roof;
  underlay: Underlay;
  scale: Scale;
}) {
  const { url } = useAttachment(siteId, underlay.photo, 'whole');
  const photo = useSize(url);
  if (!url || !photo || underlay.corners?.length !== 4) return null;
  const { left, right, foot, top } = boundsOf(roof.outline_mm ?? []);
  const [width, height] = [scale.width, (scale.width * photo.height) / photo.width];
  const corners = cornersOn(underlay, width, height);
  const [x, y] = [scale.x(left), scale.y(top)];
  const size = { width: (right - left) * scale.perMm, height: (top - foot) * scale.perMm };
  return (
    <View
      pointerEvents="none"
      testID="underlay"
      style={{ position: 'absolute', left: x, top: y, ...size, overflow: 'hidden', zIndex: -1 }}
    >
      <Image
        source={{ uri: url }}
        accessibilityLabel="A photo of the roof"
        style={{
          width,
          height,
          opacity: OPACITY,
          transformOrigin: '0 0',
          transform: flat(laidFlat(corners, { x: 0, y: 0, ...size })),
        }}
      />
    </View>
  );
}

/** Its four corners in pixels of the photo as it is shown. */
const cornersOn = ({ corners }: Underlay, width: number, height: number) =>
  cornersOf((corners ?? []).map(([x, y]) => ({ x: x * width, y: y * height })));

/** The web's own name for it, which the platform's types do not know. */
const flat = (matrix3d: number[]) => [{ matrix3d }] as unknown as { matrix: number[] }[];

/** How large a picture is, pixels; null until it is loaded. */
function useSize(url: string | null): { width: number; height: number } | null {
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  useEffect(() => {
    let gone = false;
    if (url) Image.getSize(url, (width, height) => !gone && width > 0 && setSize({ width, height }));
    return () => {
      gone = true;
    };
  }, [url]);
  return size;
}

interface ToolsProps {
  site: OpenSite;
  roof: Roof;
  on: boolean;
  onTurn(on: boolean): void;
  /** The corners of a photo are to be put. */
  onCorners(photo: string): void;
  write(what: string, set: Partial<Roof>): void;
}

/** A photo put under the drawing, seen or not. */
export function UnderlayTools({ site, roof, on, onTurn, onCorners, write }: ToolsProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const { underlay } = roof;
  const take = async () => {
    const file = await chooseFile('image/*');
    if (!file) return;
    const id = newId();
    const says = await addPhoto(site, roof.id, file, id);
    setTrouble(says);
    if (says === null) onCorners(id);
  };
  return (
    <View className="gap-3 px-[18px] pt-4">
      {trouble ? <T role="alert">{trouble}</T> : null}
      {underlay ? (
        <View className="flex-row flex-wrap gap-2">
          <Chip many label="Photo under the drawing" on={on} onPress={() => onTurn(!on)} />
          <Chip label="Set its corners" on={false} onPress={() => onCorners(underlay.photo)} />
          <Chip label="Remove the photo" on={false} onPress={() => write('Photo removed', { underlay: null })} />
        </View>
      ) : (
        <Button label="Put a photo under the drawing" onPress={() => void take()} />
      )}
    </View>
  );
}

interface CornersProps {
  siteId: string;
  photo: string;
  roof: Roof;
  onUse(underlay: Underlay): void;
  onLeave(): void;
}

/** The corners of the roof put on a photo of it, by thumb. */
export function UnderlayCorners({ siteId, photo, roof, onUse, onLeave }: CornersProps) {
  const begin = roof.underlay?.photo === photo ? roof.underlay : null;
  const { url, trouble } = useAttachment(siteId, photo, 'whole');
  const size = useSize(url);
  if (trouble) return <T className="px-[18px] pt-4">{trouble}</T>;
  if (!url || !size) return null;
  const { width, height } = size;
  return (
    <CornersSheet
      picture={url}
      width={width}
      height={height}
      begin={begin && cornersOn(begin, width, height)}
      what="the roof, the end that is ahead on top"
      use="Lay it under the drawing"
      onUse={(found) => onUse({ photo, corners: found.map(({ x, y }): [number, number] => [x / width, y / height]) })}
      onLeave={onLeave}
    />
  );
}
