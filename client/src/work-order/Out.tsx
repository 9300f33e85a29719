import type { Removed, Work } from '@true-lantern/core';
import { ScrollView, View } from 'react-native';
import { useUnits } from '../data/units';
import { Heading, T } from '../ui/text';
import { inUnits } from '../ui/units';

const TO_WORDS: Record<Removed['to'], string> = {
  customer: 'stays with the customer',
  recycler: 'to the recycler',
  stock: 'to our stock',
  returned: 'return to the seller',
};

/** What comes out and to whom, what is written where, which tools it takes. */
export function Out({ work }: { work: Work }) {
  const units = useUnits();
  return (
    <ScrollView>
      <View className="max-w-[860px] pb-10" testID="out">
        <Section title="To remove" empty="Nothing is removed." shown={work.removed.length > 0}>
          {work.removed.map(({ id, what, mass_kg, to, note }, i) => (
            <Line
              key={`${id} ${i}`}
              head={what}
              fact={[TO_WORDS[to], note].filter(Boolean).join('; ')}
              figure={mass_kg === null ? 'weight not known' : inUnits(mass_kg, 'kg', units)}
            />
          ))}
        </Section>
        <Section title="Labels" empty="No label is needed." shown={work.labels.length > 0}>
          {work.labels.map(({ text, where }, i) => (
            <Line key={i} head={text} fact={where} />
          ))}
        </Section>
        <Section title="Tools" empty="" shown={work.tools.length > 0}>
          {work.tools.map((tool) => (
            <Line key={tool} head={tool} />
          ))}
        </Section>
      </View>
    </ScrollView>
  );
}

function Section({
  title,
  empty,
  shown,
  children,
}: {
  title: string;
  empty: string;
  shown: boolean;
  children: React.ReactNode;
}) {
  return (
    <View className="pt-5">
      <Heading level={2} look="station" className="px-[18px] pb-1">
        {title}
      </Heading>
      {shown ? children : <T className="px-[18px] text-soft">{empty}</T>}
    </View>
  );
}

const Line = ({ head, fact, figure }: { head: string; fact?: string; figure?: string }) => (
  <View className="min-h-[52px] flex-row items-center gap-3 border-b border-rule px-[18px] py-2">
    <View className="min-w-0 flex-1">
      <T look="head">{head}</T>
      {fact ? <T look="fact">{fact}</T> : null}
    </View>
    {figure ? <T look="fact">{figure}</T> : null}
  </View>
);
