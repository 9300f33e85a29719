import { router } from 'expo-router';
import { makeFirm } from '../data/people';
import { useSession } from '../data/session';
import { DoorForm, EMAIL, NAME, NEW_PASSWORD } from './Form';

/** A server without a firm: whoever keeps it makes the first, with the code that it printed; further ones with a code of theirs. */
export function FirstFirm() {
  const { session, taken } = useSession();
  const first = session?.empty === true;
  return (
    <DoorForm
      title={first ? 'A new server' : 'Another firm on this server'}
      text={
        first
          ? 'There is no firm here yet. The server has printed a code where its keeper can read it; with it you make the firm and become its owner.'
          : 'With the code of whoever keeps this server you make a firm and become its owner. Firms see nothing of each other.'
      }
      act="Make the firm"
      fields={[
        {
          name: 'code',
          label: first ? 'The code that the server printed' : 'The code of the keeper',
          autoCapitalize: 'none',
        },
        { name: 'firm', label: 'What is the firm called?', autoComplete: 'organization' },
        NAME,
        EMAIL,
        NEW_PASSWORD,
      ]}
      onSend={async (values) => {
        await taken(await makeFirm(values));
        router.replace('/');
      }}
    />
  );
}
