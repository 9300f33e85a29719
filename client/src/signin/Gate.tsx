import { usePathname } from 'expo-router';
import type { PropsWithChildren } from 'react';
import { useNews } from '../data/news';
import { useSession } from '../data/session';
import { Button, Plain, Waiting } from '../ui/controls';
import { FirstFirm } from './FirstFirm';
import { SignIn } from './SignIn';
import { WORDS } from '../ui/words';

/** Lets through who is signed in; asks the others. */
export function Gate({ children }: PropsWithChildren) {
  const { session, error, retry } = useSession();
  useNews(session?.person?.id);
  // A link that lets somebody in is for whoever is not in yet; a record's number is for whoever holds the paper.
  const place = usePathname();
  if (session?.person || place.startsWith('/join/') || place.startsWith('/record/')) return children;
  if (session && place === '/new-firm') return <FirstFirm />;
  if (session) return session.empty ? <FirstFirm /> : <SignIn />;
  if (error)
    return (
      <Plain title="No answer from the server." text="Check the signal. Your entries on this device are safe.">
        <Button label={WORDS.tryAgain} kind="main" onPress={retry} />
      </Plain>
    );
  return <Waiting what="Opening True Lantern ..." />;
}
