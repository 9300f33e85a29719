import { useQuery } from '@tanstack/react-query';
import { router } from 'expo-router';
import { ApiError, getRecord } from '../data/api';
import { Button, Plain, Waiting } from '../kit/controls';
import { momentText } from '../kit/dates';

/** For whoever holds a record on paper, signed in or not: is this the one that was signed? */
export function RecordCheck({ hash }: { hash: string }) {
  const { data, error, isPending, refetch } = useQuery({
    queryKey: ['record', hash],
    queryFn: () => getRecord(hash),
    retry: false,
    gcTime: 0,
  });
  if (isPending) return <Waiting what="Looking for this record ..." />;
  if (error instanceof ApiError)
    return (
      <Plain title="No record with this number is kept here." text="Compare the number with the one on the paper.">
        <Button label="Home page" onPress={() => router.replace('/')} />
      </Plain>
    );
  if (!data)
    return (
      <Plain title="No answer from the server." text="Check the signal.">
        <Button label="Try again" kind="main" onPress={() => void refetch()} />
      </Plain>
    );
  const { keptAt, unchanged, corrections } = data;
  const beside =
    corrections === 0
      ? 'No correction was written beside it.'
      : corrections === 1
        ? 'One correction was written beside it since: ask for it.'
        : `${corrections} corrections were written beside it since: ask for them.`;
  return (
    <Plain
      title={unchanged ? 'This record is kept here, unchanged.' : 'The record with this number has changed.'}
      text={`Signed and received ${momentText(keptAt)}. ${unchanged ? `${beside} The number is that of the whole record: compare the paper’s figures with one that its firm prints.` : 'Do not rely on it: ask the firm that signed it.'}`}
    >
      <Button label="Home page" onPress={() => router.replace('/')} />
    </Plain>
  );
}
