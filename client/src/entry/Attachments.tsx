import type { PartRow } from '@true-lantern/core';
import Camera from 'lucide-react-native/icons/camera';
import ImageUp from 'lucide-react-native/icons/image-up';
import Mic from 'lucide-react-native/icons/mic';
import Square from 'lucide-react-native/icons/square';
import { useEffect, useRef, useState } from 'react';
import { Image, Pressable, View } from 'react-native';
import { addPhoto, addVoice, attachmentsOf, removeAttachment, useAttachment } from '../data/attachments';
import { chooseFile } from '../data/files';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { Button } from '../ui/controls';
import { useGround } from '../ui/ground';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { PhotoViewer } from './PhotoViewer';
import { WORDS } from '../ui/words';

const NONE: readonly string[] = [];

/** Photos and spoken notes about a part: taken here, kept on the device, sent when there is a signal. */
export function Attachments({ subject, also = NONE }: { subject: string; also?: readonly string[] }) {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { colours } = useGround();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [open, setOpen] = useState<PartRow | null>(null);
  const rows = attachmentsOf(site, subject, also);
  const photos = rows.filter(({ body }) => body.kind === 'photo');
  const voices = rows.filter(({ body }) => body.kind === 'voice');
  const take = async (camera: boolean) => {
    const file = await chooseFile('image/*', camera);
    if (file) setTrouble(await addPhoto(site, subject, file));
  };
  const remove = (row: PartRow) => {
    setOpen(null);
    offerUndo('The attachment was removed.', removeAttachment(site, row));
  };
  if (!mayWrite && rows.length === 0) return null;
  return (
    <View className="gap-3 border-b border-rule px-[18px] py-3" testID="attachments">
      {photos.length > 0 ? (
        <View className="flex-row flex-wrap gap-2">
          {photos.map((row) => (
            <Thumbnail key={row.id} row={row} onOpen={() => setOpen(row)} />
          ))}
        </View>
      ) : null}
      {voices.map((row) => (
        <Voice key={row.id} row={row} onRemove={mayWrite ? () => remove(row) : null} />
      ))}
      {trouble ? (
        <T role="alert" className="font-semi">
          {trouble}
        </T>
      ) : null}
      {mayWrite ? (
        <View className="flex-row gap-2">
          <Button
            label="Photo"
            className="flex-1 px-2"
            icon={<Camera size={20} color={colours.ink} />}
            onPress={() => void take(true)}
          />
          <Button
            label="File"
            className="flex-1 px-2"
            icon={<ImageUp size={20} color={colours.ink} />}
            onPress={() => void take(false)}
          />
          <Recorder onSound={(sound) => void addVoice(site, subject, sound).then(setTrouble)} onTrouble={setTrouble} />
        </View>
      ) : null}
      {open ? (
        <PhotoViewer
          siteId={site.id}
          row={open}
          onClose={() => setOpen(null)}
          onRemove={mayWrite ? () => remove(open) : null}
        />
      ) : null}
    </View>
  );
}

function Thumbnail({ row, onOpen }: { row: PartRow; onOpen(): void }) {
  const site = useOpenSite();
  const { url, trouble } = useAttachment(site.id, row.id, 'small');
  return (
    <Pressable
      role="button"
      aria-label={`Photo${row.body.note ? `: ${String(row.body.note)}` : ''}`}
      testID="thumbnail"
      onPress={onOpen}
      className="h-24 w-32 items-center justify-center border border-rule bg-well active:opacity-70"
    >
      {url ? (
        <Image source={{ uri: url }} resizeMode="cover" style={{ width: '100%', height: '100%' }} alt="" />
      ) : (
        <T look="small" className="p-1 text-center">
          {trouble ?? 'reading ...'}
        </T>
      )}
    </Pressable>
  );
}

function Voice({ row, onRemove }: { row: PartRow; onRemove: (() => void) | null }) {
  const site = useOpenSite();
  const { url, trouble } = useAttachment(site.id, row.id, 'whole');
  const [playing, setPlaying] = useState<HTMLAudioElement | null>(null);
  useEffect(() => () => playing?.pause(), [playing]);
  const play = () => {
    if (playing || !url) return setPlaying(null);
    const audio = new Audio(url);
    audio.addEventListener('ended', () => setPlaying(null));
    setPlaying(audio);
    void audio.play().catch(() => setPlaying(null));
  };
  const when = String(row.body.at ?? '')
    .slice(0, 16)
    .replace('T', ' ');
  return (
    <View className="flex-row items-center gap-3" testID="voice">
      <Button label={playing ? WORDS.stop : WORDS.play} disabled={!url} onPress={play} />
      <T className="min-w-0 flex-1">{trouble ?? `Spoken note, ${when}`}</T>
      {onRemove ? <Button label={WORDS.remove} kind="plain" onPress={onRemove} /> : null}
    </View>
  );
}

/** No note is longer than this: a forgotten recorder must not fill the phone. */
const LONGEST_MS = 180_000;

function Recorder({ onSound, onTrouble }: { onSound(sound: Blob): void; onTrouble(text: string | null): void }) {
  const { colours } = useGround();
  const recorder = useRef<MediaRecorder | null>(null);
  const [on, setOn] = useState(false);
  useEffect(() => () => recorder.current?.stop(), []);
  const begin = async () => {
    onTrouble(null);
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      const made = new MediaRecorder(stream);
      const pieces: Blob[] = [];
      made.addEventListener('dataavailable', ({ data }) => pieces.push(data));
      made.addEventListener('stop', () => {
        stream.getTracks().forEach((track) => track.stop());
        recorder.current = null;
        setOn(false);
        if (pieces.some(({ size }) => size > 0)) onSound(new Blob(pieces, { type: made.mimeType || 'audio/webm' }));
      });
      recorder.current = made;
      made.start();
      setOn(true);
      setTimeout(() => made.state === 'recording' && made.stop(), LONGEST_MS);
    } catch {
      onTrouble('No microphone, or this browser was told not to use it.');
    }
  };
  return (
    <Button
      label={on ? WORDS.stop : 'Speak'}
      kind={on ? 'main' : 'quiet'}
      className="flex-1 px-2"
      icon={on ? <Square size={20} color={colours.paper} /> : <Mic size={20} color={colours.ink} />}
      onPress={() => (on ? recorder.current?.stop() : void begin())}
    />
  );
}
