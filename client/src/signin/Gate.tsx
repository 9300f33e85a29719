import type { PropsWithChildren } from 'react';
import { useSession } from '../data/session';
import { Button, Plain, Waiting } from '../kit/controls';
import { SignIn } from './SignIn';

/** Lets through who is signed in; asks the others. */
export function Gate({ children }: PropsWithChildren) {
  const { session, error, retry } = useSession();
  if (session?.person) return children;
  if (session) return <SignIn />;
  if (error)
    return (
      <Plain title="No answer from the server." text="Check the signal. What was noted on this device is kept.">
        <Button label="Try again" kind="main" onPress={retry} />
      </Plain>
    );
  return <Waiting what="Opening True Lantern ..." />;
}
