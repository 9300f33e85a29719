import { useLocalSearchParams } from 'expo-router';
import { PaperScreen } from '../../../src/plan/PaperScreen';

export default function PaperRoute() {
  const { site, proposal } = useLocalSearchParams<{ site: string; proposal: string }>();
  return <PaperScreen siteId={site} proposalId={proposal} />;
}
