import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../src/shell/later';

const PaperScreen = later('PaperScreen');

export default function PaperRoute() {
  const { site, proposal } = useLocalSearchParams<{ site: string; proposal: string }>();
  return <PaperScreen siteId={site} proposalId={proposal} />;
}
