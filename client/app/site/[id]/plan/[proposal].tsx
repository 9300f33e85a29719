import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const ProposalScreen = later('ProposalScreen');

export default function ProposalRoute() {
  const { proposal } = useLocalSearchParams<{ proposal: string }>();
  return <ProposalScreen key={proposal} proposalId={proposal} />;
}
