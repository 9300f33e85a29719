import { keyOf, sentenceOf, worstFirst, type Finding } from '@true-lantern/core';
import { View } from 'react-native';
import type { OpenSite } from '../data/site';
import { Mark, VERDICT_WORDS } from '../ui/mark';
import { T } from '../ui/text';
import { usePretty } from '../ui/units';

const MOST = 2;

/** The findings that the value being entered moves, worst first, with what they were. */
export function VerdictChange({ before, after, partId }: { before: OpenSite; after: OpenSite; partId: string }) {
  const pretty = usePretty();
  const was = new Map(before.findings.map((finding) => [keyOf(finding), finding]));
  const moved = after.findings.filter((finding) => {
    const old = was.get(keyOf(finding));
    return !old || old.verdict !== finding.verdict || old.demand !== finding.demand || old.limit !== finding.limit;
  });
  // Before anything is typed: how this part stands.
  const shown = (moved.length > 0 ? moved : after.findings.filter(({ subject }) => subject === partId))
    .sort(worstFirst)
    .slice(0, MOST);
  if (shown.length === 0) return null;
  return (
    <View className="gap-2 bg-well px-3 py-2" aria-live="polite" testID="verdict-change">
      {shown.map((finding) => (
        <View key={keyOf(finding)} className="flex-row items-center gap-3">
          <Mark verdict={finding.verdict} />
          <T look="fact" className="min-w-0 flex-1 text-ink">
            {pretty(sentenceOf(after.model, finding))}
          </T>
          <T look="head">{change(was.get(keyOf(finding)), finding)}</T>
        </View>
      ))}
    </View>
  );
}

const change = (old: Finding | undefined, { verdict }: Finding) =>
  old && old.verdict !== verdict
    ? `${VERDICT_WORDS[old.verdict]} \u2192 ${VERDICT_WORDS[verdict]}`
    : VERDICT_WORDS[verdict];
