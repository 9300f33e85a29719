import { useLocalSearchParams, usePathname } from 'expo-router';
import { later } from '../../../src/shell/later';

const SiteShell = later('SiteShell');

export default function SiteRoute() {
  const { id } = useLocalSearchParams<{ id: string }>();
  // Going from one site straight to another keeps the layout's first parameters; the address is always right.
  const here = /^\/site\/([^/]+)/.exec(usePathname())?.[1] ?? id;
  return <SiteShell id={here} />;
}
