import { useQuery } from '@tanstack/react-query';
import { router } from 'expo-router';
import { useEffect, useState } from 'react';
import { join, lookAtLink } from '../data/people';
import { useSession } from '../data/session';
import { Button, Plain, Waiting } from '../ui/controls';
import { DoorForm, EMAIL, NAME, NEW_PASSWORD } from './Form';

/** Behind a link: whose door it is, and who comes in. */
export function JoinScreen({ token }: { token: string }) {
  const { session, taken } = useSession();
  const { data, error, isPending } = useQuery({
    queryKey: ['join', token],
    queryFn: () => lookAtLink(token),
    retry: false,
    gcTime: 0,
  });
  const home = () => router.replace('/');
  const [joined, setJoined] = useState(false);
  const inside = joined && Boolean(session?.person);
  // Only once the whole app knows who is there: the list behind the gate asks at its first line.
  useEffect(() => {
    if (inside) router.replace('/');
  }, [inside]);
  if (inside) return <Waiting what="Opening True Lantern ..." />;
  if (session?.person)
    return (
      <Plain title="You are signed in already." text="If this link is for somebody else, sign out first.">
        <Button label="Show sites" kind="main" onPress={home} />
      </Plain>
    );
  if (isPending) return <Waiting what="Checking the link ..." />;
  if (error || !data)
    return (
      <Plain title="This link is not valid." text={error?.message ?? ''}>
        <Button label="Sign in" kind="main" onPress={home} />
      </Plain>
    );
  const { firm, role, person } = data;
  return (
    <DoorForm
      title={person ? `Password reset for ${person.name}` : `Join ${firm}`}
      text={
        person
          ? `For ${person.email} at ${firm}. You will have to sign in again on your other devices.`
          : `Your role: ${role}. The link works once.`
      }
      act={person ? 'Save password' : 'Join'}
      fields={person ? [NEW_PASSWORD] : [NAME, EMAIL, NEW_PASSWORD]}
      onSend={async (values) => {
        await taken(await join(token, values));
        setJoined(true);
      }}
    />
  );
}
