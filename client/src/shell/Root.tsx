import Hyperlegible from '@expo-google-fonts/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf';
import HyperlegibleSemi from '@expo-google-fonts/atkinson-hyperlegible-next/600SemiBold/AtkinsonHyperlegibleNext_600SemiBold.ttf';
import HyperlegibleBold from '@expo-google-fonts/atkinson-hyperlegible-next/800ExtraBold/AtkinsonHyperlegibleNext_800ExtraBold.ttf';
import HyperlegibleMono from '@expo-google-fonts/atkinson-hyperlegible-mono/400Regular/AtkinsonHyperlegibleMono_400Regular.ttf';
import HyperlegibleMonoBold from '@expo-google-fonts/atkinson-hyperlegible-mono/700Bold/AtkinsonHyperlegibleMono_700Bold.ttf';
import { QueryClientProvider } from '@tanstack/react-query';
import { useFonts } from 'expo-font';
import { Slot, usePathname } from 'expo-router';
import { useEffect, useRef } from 'react';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import '../../global.css';
import { installOffline } from '../data/offline';
import { openOutbox } from '../data/outbox';
import { SessionProvider } from '../data/session';
import { queryClient, intoCache } from '../data/site';
import { Boundary } from '../ui/boundary';
import { GroundProvider } from '../ui/ground';
import { Gate } from '../signin/Gate';
import { fetchAhead } from './later';
import { NewerLine } from './NewerLine';

/** Around every screen: fonts, ground, data, and the question of who is there. */
export function Root() {
  const place = usePathname();
  const first = useRef(place);
  const [loaded, failed] = useFonts({
    Hyperlegible,
    HyperlegibleSemi,
    HyperlegibleBold,
    HyperlegibleMono,
    HyperlegibleMonoBold,
  });
  useEffect(() => {
    void openOutbox(intoCache);
    installOffline();
    fetchAhead(first.current);
  }, []);
  // A font that does not arrive is no reason to keep a technician waiting.
  if (!loaded && !failed) return null;
  return (
    <SafeAreaProvider>
      <GroundProvider>
        <QueryClientProvider client={queryClient}>
          <SessionProvider>
            <Boundary place={place} back="/">
              <Gate>
                <Slot />
              </Gate>
            </Boundary>
            <NewerLine />
          </SessionProvider>
        </QueryClientProvider>
      </GroundProvider>
    </SafeAreaProvider>
  );
}
