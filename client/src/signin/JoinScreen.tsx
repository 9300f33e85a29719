import { useQuery } from '@tanstack/react-query';
import { router } from 'expo-router';
import { useEffect, useState } from 'react';
import { join, lookAtLink } from '../data/people';
import { useSession } from '../data/session';
import { Button, Plain, Waiting } from '../kit/controls';
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
      <Plain
        title="You are signed in already."
        text="Sign out first, if this link is for somebody else on this device."
      >
        <Button label="To the sites" kind="main" onPress={home} />
      </Plain>
    );
  if (isPending) return <Waiting what="Looking at the link ..." />;
  if (error || !data)
    return (
      <Plain title="This link opens nothing." text={error?.message ?? ''}>
        <Button label="Sign in" kind="main" onPress={home} />
      </Plain>
    );
  const { firm, role, person } = data;
  return (
    <DoorForm
      title={person ? `Another password for ${person.name}` : `Join ${firm}`}
      text={
        person
          ? `For ${person.email} at ${firm}. Wherever you are signed in with the old one, you will have to sign in again.`
          : `You come in as ${role}. The link is good once.`
      }
      act={person ? 'Save password' : 'Come in'}
      fields={person ? [NEW_PASSWORD] : [NAME, EMAIL, NEW_PASSWORD]}
      onSend={async (values) => {
        await taken(await join(token, values));
        setJoined(true);
      }}
    />
  );
}
