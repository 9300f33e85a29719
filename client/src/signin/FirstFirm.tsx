import { makeFirm } from '../data/people';
import { useSession } from '../data/session';
import { DoorForm, EMAIL, NAME, NEW_PASSWORD } from './Form';

/** A server without a firm: whoever keeps it makes the first, with the code that it printed. */
export function FirstFirm() {
  const { taken } = useSession();
  return (
    <DoorForm
      title="A new server"
      text="There is no firm here yet. The server has printed a code where its keeper can read it; with it you make the firm and become its owner."
      act="Make the firm"
      fields={[
        { name: 'code', label: 'The code that the server printed', autoCapitalize: 'none' },
        { name: 'firm', label: 'What is the firm called?', autoComplete: 'organization' },
        NAME,
        EMAIL,
        NEW_PASSWORD,
      ]}
      onSend={async (values) => taken(await makeFirm(values))}
    />
  );
}
