import { leadOf } from '../data/reading';
import { router } from 'expo-router';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import Ellipsis from 'lucide-react-native/icons/ellipsis';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { type OpenSite } from '../data/site';
import { chooseState } from '../data/states';
import { Chip } from '../ui/controls';
import { useGround } from '../ui/ground';
import { GroundSwitch } from '../ui/ground-switch';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { useWide } from '../ui/wide';
import { UnsentLine } from '../ui/unsent-line';
import { leadLayout } from './lead-layout';

/** The site's name with the way back to all sites, its state, and the ground. */
export function SiteHeader({ site }: { site: OpenSite }) {
  const { colours } = useGround();
  const { name } = site.file.site;
  return (
    <View>
      <View className="min-h-[56px] flex-row items-center gap-1 pl-2 pr-2">
        <Pressable
          role="button"
          aria-label="All sites"
          onPress={() => router.navigate('/')}
          className="h-12 w-11 items-center justify-center active:opacity-60"
        >
          <ArrowLeft size={24} color={colours.ink} />
        </Pressable>
        <View className="min-w-0 flex-1">
          <T look="station" numberOfLines={1}>
            {name}
          </T>
        </View>
        <Pressable
          role="button"
          aria-label="This site: history, standards, export"
          onPress={() => router.navigate(`/site/${site.id}/more`)}
          className="h-12 w-11 items-center justify-center active:opacity-60"
        >
          <Ellipsis size={24} color={colours.ink} />
        </Pressable>
        <GroundSwitch />
      </View>
      <UnsentLine siteId={site.id} />
      <States site={site} />
    </View>
  );
}

/** The states in which the system is used: each has its own verdicts. */
function States({ site }: { site: OpenSite }) {
  const states = site.model.system.states ?? [];
  if (states.length === 0) return null;
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerClassName="px-[18px] pb-2">
      <View role="radiogroup" aria-label="State" className="flex-row gap-2">
        {states.map(({ id, label }) => (
          <Chip key={id} label={label} on={site.stateId === id} onPress={() => chooseState(site.id, id)} />
        ))}
        <Chip label="Everything on" on={site.stateId === null} onPress={() => chooseState(site.id, null)} />
      </View>
    </ScrollView>
  );
}

/** The single sentence at the head: the worst finding by verdict and consequence. What is dangerous is told at arm's length. */
export function Lead({ site }: { site: OpenSite }) {
  const pretty = usePretty();
  const { text, shorter, over } = useMemo(() => leadOf(site), [site]);
  const wide = useWide();
  const [width, setWidth] = useState(354);
  const danger = over === 'danger';
  const told = (sentence: string) => `${danger ? 'Danger. ' : ''}${pretty(sentence)}`;
  const { text: said, look } = leadLayout([text, ...shorter].map(told), width);
  return (
    <View
      testID="lead"
      className={`px-[18px] ${danger ? 'bg-ink' : ''} ${wide ? 'min-h-[64px] justify-center py-2' : 'pb-3 pt-2'}`}
    >
      <View onLayout={({ nativeEvent }) => setWidth(nativeEvent.layout.width)}>
        <Heading look={look} className={danger ? 'text-paper' : ''}>
          {said}
        </Heading>
      </View>
    </View>
  );
}
