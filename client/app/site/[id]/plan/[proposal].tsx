import { useLocalSearchParams } from 'expo-router';
import { ProposalScreen } from '../../../../src/plan/ProposalScreen';

export default function ProposalRoute() {
  const { proposal } = useLocalSearchParams<{ proposal: string }>();
  return <ProposalScreen key={proposal} proposalId={proposal} />;
}
