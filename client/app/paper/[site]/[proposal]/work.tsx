import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const WorkPaper = later('WorkPaper');

export default function WorkPaperRoute() {
  const { site, proposal } = useLocalSearchParams<{ site: string; proposal: string }>();
  return <WorkPaper siteId={site} proposalId={proposal} />;
}
