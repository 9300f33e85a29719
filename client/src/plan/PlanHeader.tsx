import { router } from 'expo-router';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { HeavyRule } from '../ui/controls';
import { BackArrow } from '../ui/back-arrow';
import { Heading } from '../ui/text';

/** The title of a page of Plan, with the way back. */
export function PlanHeader({ title, second = false }: { title: string; second?: boolean }) {
  const site = useOpenSite();
  return (
    <View>
      <View className="min-h-[60px] flex-row items-center pr-[18px]">
        <BackArrow label="All proposals" onPress={() => router.navigate(`/site/${site.id}/plan`)} />
        <Heading look="station" className={`min-w-0 flex-1 py-2 ${second ? 'text-second' : ''}`}>
          {title}
        </Heading>
      </View>
      <HeavyRule />
    </View>
  );
}
