import { Router, type Response } from 'express';
import { sessionStands, whoIs } from '../auth/session';
import { Problem } from '../problem';
import type { Database } from '../store/database';
import type { News } from '../store/news';

/** An open page hears of changes by others (server-sent events), instead of asking again and again. */

/** Streams of one person on one server: more than that are devices that forgot to close. */
const MOST_OF_PERSON = 12;
/** Bytes that wait for a page to read them. */
const MOST_UNREAD = 64 * 1024;

/** @returns the route, and what ends all streams when the server leaves */
export function eventRoutes(database: Database, news: News): { router: Router; end(): void } {
  const router = Router();
  const streams = new Set<Response>();
  const held = new Map<string, number>();

  router.get('/events', (request, response) => {
    const { userId, firmId } = whoIs(request);
    const stands = () => sessionStands(database, request);
    const mine = held.get(userId) ?? 0;
    if (mine >= MOST_OF_PERSON) throw new Problem(429, 'Too many pages of yours are open at once. Close some.');
    if (!news.open()) throw new Problem(503, 'Changes by others cannot be told at the moment.');
    held.set(userId, mine + 1);
    response.set({
      'Content-Type': 'text/event-stream',
      // Compressed or kept back by a proxy, an event would arrive with the next one.
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    });
    response.flushHeaders();
    // A page that was away does not know what it missed: it asks once.
    response.write('retry: 2000\nevent: ready\ndata: {}\n\n');
    const end = news.listen(
      firmId,
      ({ firmId: _, siteId, ...rest }) => {
        const data = JSON.stringify({ id: siteId, ...rest });
        // Whoever does not read is let go, and asks when they do: nothing piles up here for them.
        if (response.writableLength > MOST_UNREAD) response.end();
        else response.write(`event: site\ndata: ${data}\n\n`);
      },
      // What it missed nobody knows: the page comes again, and asks.
      () => response.end(),
    );
    streams.add(response);
    const beat = setInterval(() => {
      // Whoever was removed, moved to another firm or signed out hears nothing further.
      stands().then(
        (standing) => {
          // Where the database is not heard, neither is anybody's change: the page had better ask.
          if (!standing || !news.open()) response.end();
          else response.write(': still here\n\n');
        },
        () => response.end(),
      );
    }, news.beat_ms);
    response.on('close', () => {
      clearInterval(beat);
      end();
      streams.delete(response);
      const left = (held.get(userId) ?? 1) - 1;
      if (left > 0) held.set(userId, left);
      else held.delete(userId);
    });
  });
  return {
    router,
    end() {
      for (const stream of streams) stream.end();
    },
  };
}
