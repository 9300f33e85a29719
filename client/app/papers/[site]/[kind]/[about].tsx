import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const SitePaper = later('SitePaper');

export default function SitePaperRoute() {
  const { site, kind, about } = useLocalSearchParams<{ site: string; kind: string; about: string }>();
  return <SitePaper siteId={site} kind={kind} about={about} />;
}
