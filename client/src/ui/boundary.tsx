import { router } from 'expo-router';
import { useEffect, useRef, useState, type PropsWithChildren } from 'react';
import { ErrorBoundary, getErrorMessage } from 'react-error-boundary';
import { saveTextFile } from '../data/files';
import { isGoneChunk, mayReload, reloadOnce } from '../data/offline';
import { unsentText, useMine } from '../data/outbox';
import { Button, Plain, Waiting } from './controls';
import { WORDS } from './words';

const SETTLES_MS = 1000;

/** Around every screen: one that fails says what happened, and leads back; nothing that was noted is lost. */
export function Boundary({ place, back, children }: PropsWithChildren<{ place: string; back: string }>) {
  const mine = useMine();
  const failedAt = useRef(0);
  const [round, setRound] = useState(0);
  const [reloading, setReloading] = useState(false);
  useEffect(() => {
    // Gone elsewhere, the next screen gets its chance. Right after a failure the router itself goes to its first screen,
    // since the failed one has left it: that is nobody's wish.
    if (failedAt.current === 0 || Date.now() - failedAt.current < SETTLES_MS) return;
    failedAt.current = 0;
    setRound((n) => n + 1);
  }, [place]);
  return (
    <ErrorBoundary
      resetKeys={[round]}
      onError={(error) => {
        console.warn('A screen failed.', error);
        failedAt.current = Date.now();
        if (!isGoneChunk(error)) return;
        const failed = location.href;
        // Said only once it is known that a reload would not help: a sentence that is gone in a moment alarms for nothing.
        setReloading(true);
        void mayReload(mine.some((entry) => entry.unkept)).then((may) => setReloading(may && reloadOnce(failed)));
      }}
      fallbackRender={({ error, resetErrorBoundary }) => (
        <Failed
          error={error}
          reloading={reloading}
          again={resetErrorBoundary}
          back={() => {
            router.replace(back);
            resetErrorBoundary();
          }}
        />
      )}
    >
      {children}
    </ErrorBoundary>
  );
}

function Failed({
  error,
  reloading,
  again,
  back,
}: {
  error: unknown;
  reloading: boolean;
  again(): void;
  back(): void;
}) {
  const gone = isGoneChunk(error);
  const mine = useMine();
  const unkept = mine.some((entry) => entry.unkept);
  const noted = unkept ? 'An entry is only in this open page: go back, do not close it.' : 'Your entries are saved.';
  // A chunk that did not come is remembered as failed: only a new page asks for it again.
  const retry = () => (gone ? void mayReload(unkept).then((may) => (may ? location.reload() : again())) : again());
  if (reloading) return <Waiting what="Loading the newer version ..." />;
  return (
    <Plain
      title={gone ? 'A part of the app could not be loaded.' : 'This screen failed.'}
      text={
        gone
          ? `There may be no signal, or a newer version of the app. ${noted}`
          : `${noted} What happened: ${getErrorMessage(error) ?? 'unknown error'}`
      }
    >
      <Button label={WORDS.tryAgain} kind="main" onPress={retry} />
      <Button label={WORDS.back} onPress={back} />
      {mine.length > 0 ? (
        <Button
          label="Export my unsent entries"
          onPress={() => saveTextFile('not-sent.lantern-unsent.json', unsentText(mine))}
        />
      ) : null}
    </Plain>
  );
}
