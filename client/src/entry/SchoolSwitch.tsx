import { answerOf, schoolOf, sentenceOf, underSchool, type Finding } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useMayWrite } from '../data/session';
import { rowOfPart, setFields, type OpenSite } from '../data/site';
import { Button, Chip } from '../ui/controls';
import { Mark, VERDICT_WORDS } from '../ui/mark';
import { T } from '../ui/text';
import { usePretty } from '../ui/units';

/** How another school would judge this very finding; and, if that is what is wanted, the school for this site. */
export function SchoolSwitch({ site, finding }: { site: OpenSite; finding: Finding }) {
  const pretty = usePretty();
  const mayWrite = useMayWrite();
  const [tried, setTried] = useState<string | number | null>(null);
  const school = schoolOf(site.judged, finding);
  if (!school) return null;
  const now = answerOf(site.judged.schools, school, site.judged.site);
  const other = tried !== null && tried !== now ? underSchool(site.judged, finding, school, tried) : null;
  const row = rowOfPart(site, 'schools');
  return (
    <View className="gap-2" testID="school-switch">
      <T look="fact">{school.label}, by standard:</T>
      <View role="radiogroup" aria-label={school.label} className="flex-row flex-wrap gap-2">
        {school.choices.map(([value, word]) => (
          <Chip key={word} label={pretty(word)} on={(tried ?? now) === value} onPress={() => setTried(value)} />
        ))}
      </View>
      <T look="fact">{pretty(school.choices.find(([value]) => value === (tried ?? now))?.[2] ?? '')}</T>
      {tried !== null && tried !== now ? (
        <View className="flex-row items-center gap-3" aria-live="polite">
          {other ? <Mark verdict={other.verdict} /> : null}
          <T look="fact" className="min-w-0 flex-1 text-ink">
            {other
              ? `${VERDICT_WORDS[other.verdict]}: ${pretty(sentenceOf(site.judged, other))}`
              : 'This standard does not check it.'}
          </T>
          {mayWrite && row ? (
            <Button
              label="Use here"
              className="min-h-[48px]"
              onPress={() => setFields(site, row, { [school.path]: tried })}
            />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}
