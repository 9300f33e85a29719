import { useLocalSearchParams } from 'expo-router';
import { VisitPaper } from '../../../../src/prove/VisitPaper';

export default function VisitPaperRoute() {
  const { site, visit } = useLocalSearchParams<{ site: string; visit: string }>();
  return <VisitPaper siteId={site} visitId={visit} />;
}
