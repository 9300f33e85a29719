import { useQuery } from '@tanstack/react-query';
import { router } from 'expo-router';
import { ApiError, getRecord } from '../data/api';
import { Button, Plain, Waiting } from '../ui/controls';
import { momentText } from '../ui/dates';
import { WORDS } from '../ui/words';

/** For whoever holds a record on paper, signed in or not: is this the one that was signed? */
export function RecordCheck({ hash }: { hash: string }) {
  const { data, error, isPending, refetch } = useQuery({
    queryKey: ['record', hash],
    queryFn: () => getRecord(hash),
    retry: false,
    gcTime: 0,
  });
  if (isPending) return <Waiting what="Checking this record ..." />;
  if (error instanceof ApiError)
    return (
      <Plain title="No record with this number is saved here." text="Compare the number with the one on the paper.">
        <Button label="Home page" onPress={() => router.replace('/')} />
      </Plain>
    );
  if (!data)
    return (
      <Plain title="No answer from the server." text="Check the signal.">
        <Button label={WORDS.tryAgain} kind="main" onPress={() => void refetch()} />
      </Plain>
    );
  const { keptAt, unchanged, corrections } = data;
  const beside =
    corrections === 0
      ? 'No corrections were added.'
      : corrections === 1
        ? 'One correction was added later. Ask for it.'
        : `${corrections} corrections were added later. Ask for them.`;
  return (
    <Plain
      title={unchanged ? 'This record is stored here, unchanged.' : 'The record with this number has changed.'}
      text={`Signed and received ${momentText(keptAt)}. ${unchanged ? `${beside} The number covers the whole record: compare your paper with a fresh print from the firm.` : 'Do not rely on it. Ask the firm that signed it.'}`}
    >
      <Button label="Home page" onPress={() => router.replace('/')} />
    </Plain>
  );
}
