import { useQuery } from '@tanstack/react-query';
import { View } from 'react-native';
import { ask } from '../data/api';
import { useSession } from '../data/session';
import { useAttempt } from '../ui/attempt';
import { Button } from '../ui/controls';
import { T } from '../ui/text';

/** The raft that speaks in the demo: the one system that its stand-in is. */
const SITE = 'Whelk Bank research raft';

/** In the demo alone: gives the stand-in system a fault, to see it noticed. */
export function DemoFault({ siteName }: { siteName: string }) {
  const { session } = useSession();
  const here = Boolean(session?.demo) && siteName === SITE;
  const { data, refetch } = useQuery({
    queryKey: ['demo-fault'],
    queryFn: () => ask<{ on: boolean }>('GET', '/demo/fault'),
    enabled: here,
  });
  const { trouble, attempt } = useAttempt<undefined>(() => void refetch());
  if (!here) return null;
  const on = data?.on ?? false;
  const turn = () =>
    void attempt(async () => {
      await ask('PUT', '/demo/fault', { on: !on });
      return undefined;
    });
  return (
    <View className="gap-3 px-[18px] pt-8" testID="demo-fault">
      <T look="fact">
        {on
          ? 'Demo: the battery cable now has a loose joint. Its voltage drop goes out of range within a minute.'
          : 'Demo: this raft is a simulation. Give it a loose joint at the battery cable and see what happens.'}
      </T>
      <Button label={on ? 'Tighten the joint' : 'Loosen a joint'} onPress={turn} />
      {trouble ? <T role="alert">{trouble}</T> : null}
    </View>
  );
}
