import { useLocalSearchParams } from 'expo-router';
import { SiteShell } from '../../../src/shell/SiteShell';

export default function SiteRoute() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SiteShell id={id} />;
}
