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
          ? 'There is no firm on this server yet. The server printed a code for its administrator. With that code you create the firm and become its owner.'
          : "With a code from the server's administrator you create a firm and become its owner. Firms cannot see each other."
      }
      act="Create firm"
      fields={[
        {
          name: 'code',
          label: first ? 'Code printed by the server' : "Administrator's code",
          autoCapitalize: 'none',
        },
        { name: 'firm', label: 'Name of the firm', autoComplete: 'organization' },
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
