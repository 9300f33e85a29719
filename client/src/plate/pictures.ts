import { releaseProxy, transfer, wrap, type Remote } from 'comlink';
import type { Pictures } from './picture.worker';
import { levelPicture, openPicture, type LevelPicture, type OpenPhoto } from './picture-work';
import type { Corners, Grey } from '@true-lantern/core';

/** The work on one photo, wherever it is done: on a thread where the browser can draw on one, else on the page. */
export interface PictureWork {
  open(bitmap: ImageBitmap): Promise<OpenPhoto>;
  level(grey: Grey, corners: Corners | null): Promise<LevelPicture>;
  end(): void;
}

/** Browsers that cannot draw on a thread (Safari before 16.4) do it on the page. */
const hasThread = () => typeof Worker !== 'undefined' && typeof OffscreenCanvas !== 'undefined';

/**
 * Begins the work on a photo.
 * @param stop ends it at once, whatever it is at
 */
export function pictureWork(stop: AbortSignal): PictureWork {
  if (!hasThread())
    return {
      open: (bitmap) => openPicture(bitmap, () => import('@zxing/library')),
      level: levelPicture,
      end: () => undefined,
    };
  const thread = new Worker(new URL('./picture.worker', import.meta.url));
  const far: Remote<Pictures> = wrap<Pictures>(thread);
  const lost = new Promise<never>((_, reject) => {
    thread.addEventListener('error', ({ message }) => reject(new Error(message || 'The picture could not be read.')));
    stop.addEventListener('abort', () => reject(new DOMException('Stopped', 'AbortError')), { once: true });
  });
  // Whoever waits is told; where nobody does, nothing is lost.
  lost.catch(() => undefined);
  const end = () => {
    far[releaseProxy]();
    thread.terminate();
  };
  stop.addEventListener('abort', end, { once: true });
  return {
    open: (bitmap) => Promise.race([far.open(transfer(bitmap, [bitmap])), lost]),
    level: (grey, corners) => Promise.race([far.level(grey, corners), lost]),
    end: () => {
      stop.removeEventListener('abort', end);
      if (!stop.aborted) end();
    },
  };
}
