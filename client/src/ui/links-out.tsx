import { counted } from '@true-lantern/core';
import { View } from 'react-native';
import { useGivenAgain } from '../data/given';
import { useAttempt } from './attempt';
import { Button } from './controls';
import { shortDay } from './dates';
import { Heading, T } from './text';

/** An address as the firm sees it: never its token. */
interface LinkOut {
  id: string;
  createdAt: string;
  expiresAt: string;
  opened: number;
  by: string | null;
}

interface LinksOutProps {
  title: string;
  /** What each is called, in "End the page of 3 May". */
  what: string;
  links: readonly LinkOut[];
  /** Absent: the person may only look. */
  end?: ((id: string) => Promise<undefined>) | undefined;
  className?: string;
}

/** Addresses that are out: since when and until when, how often they were opened, and how one is ended. */
export function LinksOut({ title, what, links, end, className = '' }: LinksOutProps) {
  const { trouble, attempt } = useAttempt<undefined>(useGivenAgain());
  if (links.length === 0) return null;
  return (
    <View className={className}>
      <Heading level={2} look="station">
        {title}
      </Heading>
      {trouble ? <T role="alert">{trouble}</T> : null}
      {links.map(({ id, createdAt, expiresAt, opened, by }) => (
        <View key={id} className="min-h-[64px] flex-row items-center justify-between gap-3 border-b border-rule">
          <View className="min-w-0 flex-1">
            <T>{`Made ${shortDay(createdAt)}${by ? ` by ${by}` : ''}`}</T>
            <T look="fact">{`until ${shortDay(expiresAt)} \u00b7 opened ${counted(opened, 'time')}`}</T>
          </View>
          {end ? (
            <Button
              label="End"
              aria-label={`End the ${what} of ${shortDay(createdAt)}`}
              kind="plain"
              onPress={() => void attempt(() => end(id))}
            />
          ) : null}
        </View>
      ))}
    </View>
  );
}
