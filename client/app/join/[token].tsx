import { useLocalSearchParams } from 'expo-router';
import { later } from '../../src/shell/later';

const JoinScreen = later('JoinScreen');

export default function JoinRoute() {
  const { token } = useLocalSearchParams<{ token: string }>();
  return <JoinScreen key={token} token={token} />;
}
