import { useLocalSearchParams } from 'expo-router';
import { OrderScreen } from '../../../../src/work/OrderScreen';

export default function OrderRoute() {
  const { proposal } = useLocalSearchParams<{ proposal: string }>();
  return <OrderScreen key={proposal} proposalId={proposal} />;
}
