import { lazy, Suspense, useState, type ComponentProps, type ComponentType } from 'react';
import { Waiting } from '../ui/controls';

type Stages = typeof import('../stages/stages');

let come: Stages | null = null;

/** Fetches the screens behind the list of sites; from the device itself once its app is kept there. */
const fetchStages = () => import('../stages/stages').then((stages) => (come = stages));

/** How long the list of sites has the line to itself; any other address wants the screens at once. */
const FIRST_MS = 300;

/** Fetches them while the list is read. One that does not come is said where it is wanted. */
export const fetchAhead = (path: string) =>
  setTimeout(() => void fetchStages().catch(() => undefined), path === '/' ? FIRST_MS : 0);

/** A screen behind the list of sites: drawn at once where its piece of the program is there, else when it comes. */
export function later<N extends keyof Stages>(name: N): ComponentType<ComponentProps<Stages[N]>> {
  // Its own properties are the caller's matter, and held by the type above.
  const screenOf = (stages: Stages) => stages[name] as ComponentType<object>;
  function Later(props: object) {
    // Chosen once: another component in its place would begin with an empty page. Asked for anew by each screen, since
    // one that did not come is remembered as failed.
    const [Screen] = useState<ComponentType<object>>(() =>
      come ? screenOf(come) : lazy(() => fetchStages().then((stages) => ({ default: screenOf(stages) }))),
    );
    return (
      <Suspense fallback={<Waiting what="Opening ..." />}>
        <Screen {...props} />
      </Suspense>
    );
  }
  return Later as ComponentType<ComponentProps<Stages[N]>>;
}
