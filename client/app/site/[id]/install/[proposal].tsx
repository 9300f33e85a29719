import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const OrderScreen = later('OrderScreen');

export default function OrderRoute() {
  const { proposal } = useLocalSearchParams<{ proposal: string }>();
  return <OrderScreen key={proposal} proposalId={proposal} />;
}
