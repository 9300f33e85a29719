import { router } from 'expo-router';
import { View } from 'react-native';
import { useMine, useOutbox, waitingText } from '../data/outbox';
import { useSession } from '../data/session';
import { clearTroubles, useTroubles } from '../data/trouble';
import { Button } from './controls';
import { T } from './text';

/**
 * What has not reached the server yet, and what it would not take: of one site, or of everything. Silent when all is
 * well.
 */
export function UnsentLine({ siteId }: { siteId?: string }) {
  const { trouble } = useOutbox();
  const all = useMine();
  const { askAgain } = useSession();
  const troubles = useTroubles();
  const mine = siteId === undefined ? all : all.filter((entry) => entry.siteId === siteId);
  const aside = mine.filter(({ state }) => state !== 'waiting').length;
  const waiting = waitingText(mine, trouble);
  if (aside === 0 && troubles.length === 0 && waiting === null) return null;
  return (
    <View className="gap-2 bg-well px-[18px] py-2" role="status" testID="outbox">
      {troubles.map((sentence) => (
        <T key={sentence} look="fact" className="font-semi text-ink">
          {sentence}
        </T>
      ))}
      {troubles.length > 0 ? <Button label="Understood" onPress={clearTroubles} /> : null}
      {waiting ? (
        <T look="fact" className="text-ink">
          {waiting}
        </T>
      ) : null}
      {waiting && trouble === 'signed-out' ? <Button label="Sign in to send" onPress={askAgain} /> : null}
      {aside > 0 ? (
        <>
          <T look="head">
            {aside === 1 ? '1 entry was' : `${aside} entries were`} refused by the server.{' '}
            {aside === 1 ? 'It is' : 'They are'} saved here.
          </T>
          <Button label={aside === 1 ? 'See it' : 'See them'} onPress={() => router.navigate('/unsent')} />
        </>
      ) : null}
    </View>
  );
}
