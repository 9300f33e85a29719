import { messageOf } from '@true-lantern/core/base';
import type { WeatherChoice } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { chooseWeatherFile } from '../data/files';
import { Chip } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { askEngine } from '../workers/engine';
import { SEEDED } from './years';

interface Props {
  weather: WeatherChoice;
  onWeather(weather: WeatherChoice): void;
}

/** Which weathers the year is worked out over: drawn from the site's months, their mean, or the hours of a file. */
export function WeatherOf({ weather, onWeather }: Props) {
  const [note, setNote] = useState<string | null>(null);
  const readFile = async () => {
    const chosen = await chooseWeatherFile();
    if (!chosen) return;
    setNote('Reading the weather file ...');
    try {
      const hours = await askEngine<'weather'>({ ask: 'weather', text: chosen.text });
      onWeather({ kind: 'hours', weather: hours, name: `${chosen.name} ${chosen.text.length}` });
      setNote(`${chosen.name}: hourly sun and temperature from the file. Kept while this page is open.`);
    } catch (error) {
      // A fault that crossed from the engine's thread has become its words.
      setNote(`${chosen.name} cannot be used. ${messageOf(error)}`);
    }
  };
  return (
    <View className="gap-2 pt-4" testID="weather-of">
      <Heading level={2} look="station">
        Weather
      </Heading>
      <View role="radiogroup" aria-label="Weather" className="flex-row flex-wrap gap-2">
        <Chip label="200 simulated years" on={weather.kind === 'seeded'} onPress={() => onWeather(SEEDED)} />
        <Chip label="Average year" on={weather.kind === 'mean'} onPress={() => onWeather({ kind: 'mean' })} />
        <Chip label="A weather file (EPW)" on={weather.kind === 'hours'} onPress={() => void readFile()} />
      </View>
      {weather.kind === 'mean' ? (
        <T look="fact">Every day of a month is the same: good for checking by hand, but it shows no bad weather.</T>
      ) : null}
      {note ? (
        <T look="fact" role="status" className="text-ink">
          {note}
        </T>
      ) : null}
    </View>
  );
}
