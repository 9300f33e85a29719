import { router } from 'expo-router';
import { useEffect, useState, type PropsWithChildren } from 'react';
import { ErrorBoundary, getErrorMessage } from 'react-error-boundary';
import { saveTextFile } from '../data/files';
import { isGoneChunk, reloadOnce } from '../data/offline';
import { unsentText, useMine } from '../data/outbox';
import { Button, Plain, Waiting } from './controls';

/** Around every screen: one that fails says what happened, and leads back; nothing that was noted is lost. */
export function Boundary({ place, back, children }: PropsWithChildren<{ place: string; back: string }>) {
  return (
    <ErrorBoundary
      // Gone elsewhere, the next screen gets its chance.
      resetKeys={[place]}
      fallbackRender={({ error, resetErrorBoundary }) => (
        <Failed
          error={error}
          again={resetErrorBoundary}
          back={() => {
            router.replace(back as '/');
            resetErrorBoundary();
          }}
        />
      )}
    >
      {children}
    </ErrorBoundary>
  );
}

function Failed({ error, again, back }: { error: unknown; again(): void; back(): void }) {
  const gone = isGoneChunk(error);
  const mine = useMine();
  const [reloading, setReloading] = useState(gone);
  useEffect(() => {
    console.warn('A screen failed.', error);
    if (gone) setReloading(reloadOnce());
  }, [error, gone]);
  if (reloading) return <Waiting what="Loading the newer version ..." />;
  return (
    <Plain
      title={gone ? 'A part of the app could not be loaded.' : 'This screen failed.'}
      text={
        gone
          ? 'There may be no signal, or a newer version on the server. What was noted is kept.'
          : `What was noted is kept. What happened: ${getErrorMessage(error) ?? 'no more is known'}`
      }
    >
      <Button label="Try again" kind="main" onPress={gone ? () => location.reload() : again} />
      <Button label="Back" onPress={back} />
      {mine.length > 0 ? (
        <Button
          label="Export my unsent entries"
          onPress={() => saveTextFile('not-sent.lantern-unsent.json', unsentText(mine))}
        />
      ) : null}
    </Plain>
  );
}
