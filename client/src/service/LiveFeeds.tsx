import type { Feed } from '@true-lantern/wire';
import { View } from 'react-native';
import { endFeed, makeFeed, useFeeds, useFeedsAgain } from '../data/live';
import { useAttempt } from '../ui/attempt';
import { Button } from '../ui/controls';
import { shortDay } from '../ui/dates';
import { Heading, T } from '../ui/text';

/** The tokens by which devices send: made here, told once, ended here. */
export function LiveFeeds({ siteId }: { siteId: string }) {
  const { data } = useFeeds(siteId);
  const { made, trouble, attempt } = useAttempt<Feed>(useFeedsAgain());
  return (
    <View className="gap-3 px-[18px] pt-8">
      <Heading level={2} look="station">
        Who may send
      </Heading>
      <T look="fact">
        A logger or a gateway on site sends its values here, one JSON a line. Its token can send, and nothing else.
      </T>
      {trouble ? <T role="alert">{trouble}</T> : null}
      {made?.token ? (
        <View className="gap-2 bg-well px-4 py-4" role="status" testID="feed-token">
          <T look="mono" selectable>
            {made.token}
          </T>
          <T look="mono" selectable>
            {`POST ${location.origin}/api/live`}
          </T>
          <T look="fact">The token is shown only once.</T>
        </View>
      ) : null}
      {data?.feeds.map(({ id, createdAt, by, used }) => (
        <View key={id} className="min-h-[64px] flex-row items-center justify-between gap-3 border-b border-rule">
          <View className="min-w-0 flex-1">
            <T>{`Made ${shortDay(createdAt)}${by ? ` by ${by}` : ''}`}</T>
            <T look="fact">{`used ${used} times`}</T>
          </View>
          <Button
            label="End"
            aria-label={`End the token of ${shortDay(createdAt)}`}
            kind="plain"
            onPress={() => void attempt(() => endFeed(siteId, id))}
          />
        </View>
      ))}
      <Button label="Make a token" onPress={() => void attempt(() => makeFeed(siteId))} />
    </View>
  );
}
