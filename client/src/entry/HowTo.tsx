import type { Conditions, ExpectedTest } from '@true-lantern/core';
import type { PropsWithChildren } from 'react';
import { T } from '../ui/text';
import { usePretty } from '../ui/units';

type How = Pick<ExpectedTest, 'how' | 'tool' | 'minutes' | 'cautions' | 'licensed'>;

/** How a reading is taken, with which tool and in what time, and what to mind. */
export function HowTo({ test, children }: PropsWithChildren<{ test: How }>) {
  const pretty = usePretty();
  const { how, tool, minutes, cautions, licensed } = test;
  return (
    <>
      <T>{`${pretty(how.charAt(0).toUpperCase() + how.slice(1))}.`}</T>
      <T look="fact">{`${tool}, ${minutes} min${licensed ? '; by a licensed or qualified person' : ''}`}</T>
      {children}
      {cautions.map((caution) => (
        <T key={caution} look="fact" className="border-l-4 border-ink pl-3 text-ink">
          {caution}
        </T>
      ))}
    </>
  );
}

/** What is kept with a reading of the conditions that it was taken in. */
export const takenIn = ({ irradiance_W_m2, irradianceBy, ambient_C, cell_C }: Conditions) => ({
  irradiance_W_m2,
  irradianceBy,
  ambient_C,
  ...(cell_C === null ? {} : { cell_C }),
});
