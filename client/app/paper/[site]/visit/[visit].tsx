import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const VisitPaper = later('VisitPaper');

export default function VisitPaperRoute() {
  const { site, visit } = useLocalSearchParams<{ site: string; visit: string }>();
  return <VisitPaper siteId={site} visitId={visit} />;
}
