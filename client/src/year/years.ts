import { storyOf, type Model, type WeatherChoice, type YearSlice, type YearStory } from '@true-lantern/core';
import { useTogether } from '../workers/engine';

/** So many weathers are looked at. */
export const MANY = 200;
/** In pieces, worked on by one thread a core: the first is an answer at once, each further one makes the band surer. */
const PIECE = 20;
/** In how many pieces the many years are asked for. */
export const PIECES = MANY / PIECE;
const SEED = 1;
/** The weather that the year is shown in at first. */
export const SEEDED: WeatherChoice = { kind: 'seeded', seed: SEED };

/** The many years, as far as they have come. */
export interface Years {
  story: YearStory | null;
  /** 0 to 1: how many of the years are in. */
  share: number;
  error: Error | null;
}

/**
 * A model's years: those that are in so far, told as one. The mean year and a file's are one year alone.
 * @param model null: nothing is asked
 * @param most pieces that are asked for; fewer where somebody has stopped it
 */
export function useYears(model: Model | null, weather: WeatherChoice, most = PIECES): Years {
  const seeded = weather.kind === 'seeded';
  const pieces = model === null ? 0 : seeded ? most : 1;
  return useTogether<'years', Years>(
    Array.from({ length: pieces }, (_, i) => ({
      ask: 'years',
      model: model as Model,
      weather,
      from: i * PIECE,
      count: seeded ? PIECE : 1,
    })),
    together,
  );
}

function together(answers: { data: YearSlice | undefined; error: Error | null }[]): Years {
  const slices = answers.flatMap(({ data }) => data ?? []);
  return {
    story: slices.length > 0 ? storyOf(slices) : null,
    share: answers.length > 0 ? slices.length / answers.length : 1,
    error: answers.find(({ error }) => error)?.error ?? null,
  };
}
