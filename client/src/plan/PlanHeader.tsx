import { router } from 'expo-router';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import { Pressable, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { HeavyRule } from '../ui/controls';
import { useGround } from '../ui/ground';
import { Heading } from '../ui/text';

/** The title of a page of Plan, with the way back. */
export function PlanHeader({ title, second = false }: { title: string; second?: boolean }) {
  const site = useOpenSite();
  const { colours } = useGround();
  return (
    <View>
      <View className="min-h-[60px] flex-row items-center pr-[18px]">
        <Pressable
          role="button"
          aria-label="All proposals"
          onPress={() => router.navigate(`/site/${site.id}/plan`)}
          className="h-14 w-14 items-center justify-center active:opacity-60 print:hidden"
        >
          <ArrowLeft size={26} color={colours.ink} />
        </Pressable>
        <Heading look="station" className={`min-w-0 flex-1 py-2 ${second ? 'text-second' : ''}`}>
          {title}
        </Heading>
      </View>
      <HeavyRule />
    </View>
  );
}
