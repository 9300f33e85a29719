import { useLocalSearchParams } from 'expo-router';
import { WorkPaper } from '../../../../src/work/WorkPaper';

export default function WorkPaperRoute() {
  const { site, proposal } = useLocalSearchParams<{ site: string; proposal: string }>();
  return <WorkPaper siteId={site} proposalId={proposal} />;
}
