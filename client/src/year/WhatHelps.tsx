import { ASKED, type Advice } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { saveProposal } from '../ui/save-proposal';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { Button, Chip } from '../ui/controls';
import { Marked } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { Working } from '../ui/working';
import { useAnswer } from '../workers/engine';
import { WORDS } from '../ui/words';

const ACCEPTED: [share: number, words: string][] = [
  [1 / 60, 'never in 60'],
  [1 / 20, '1 year in 20'],
  [1 / 5, '1 year in 5'],
];

/** What would help, searched for over sixty weathers when somebody asks: each in a sentence with its numbers. */
export function WhatHelps({ site }: { site: OpenSite }) {
  const [open, setOpen] = useState(false);
  const [accept, setAccept] = useState(ASKED.accept);
  return (
    <View className="gap-3 pt-4" testID="what-helps">
      <Heading level={2} look="station">
        What would help
      </Heading>
      {open ? (
        <>
          <T look="fact">How often may the power fail?</T>
          <View role="radiogroup" aria-label="How often may the power fail?" className="flex-row flex-wrap gap-2">
            {ACCEPTED.map(([share, words]) => (
              <Chip key={words} label={words} on={accept === share} onPress={() => setAccept(share)} />
            ))}
          </View>
          <Answer site={site} accept={accept} />
        </>
      ) : (
        <Button label="Search" onPress={() => setOpen(true)} />
      )}
    </View>
  );
}

function Answer({ site, accept }: { site: OpenSite; accept: number }) {
  const { data, progress, error, stop } = useAnswer<'advice'>({
    ask: 'advice',
    model: site.judged,
    asked: { ...ASKED, accept },
  });
  if (error) return <T>{error.message}</T>;
  if (!data) return <Working what="Searching 60 simulated years ..." progress={progress} onStop={stop} />;
  if (data.length === 0) return <T>No change would help much: this system covers the year.</T>;
  return (
    <View>
      {data.map((advice, i) => (
        <One key={`${advice.id} ${i}`} site={site} advice={advice} />
      ))}
    </View>
  );
}

const TITLES: Record<Advice['id'], string> = {
  modules: 'More modules for the year',
  bank: 'A larger bank for the year',
  generator: 'Automatic generator start',
  tilt: 'Steeper tilt for the worst month',
  day: 'Move a load to daytime',
  clipped: 'A larger controller',
  mppt: 'MPPT in place of PWM',
  lithium: 'Lithium',
  unused: 'A summer load',
};

function One({ site, advice }: { site: OpenSite; advice: Advice }) {
  const pretty = usePretty();
  const mayWrite = useMayWrite();
  const { id, text, changes, harms } = advice;
  return (
    <View className="gap-2 border-b border-rule py-3" testID={`advice-${id}`}>
      <T>{pretty(text)}</T>
      {harms.length > 0 ? (
        <>
          <T look="fact">On its own this would push over its limit:</T>
          {harms.map((harm) => (
            <Marked key={harm} verdict="over">
              {pretty(harm)}
            </Marked>
          ))}
        </>
      ) : null}
      {changes && mayWrite ? (
        <Button
          label={WORDS.saveAsProposal}
          aria-label={`Save as proposal: ${TITLES[id]}`}
          kind="second"
          className="self-start"
          onPress={() => saveProposal(site, TITLES[id], changes)}
        />
      ) : null}
    </View>
  );
}
