import { useLocalSearchParams } from 'expo-router';
import { JoinScreen } from '../../src/signin/JoinScreen';

export default function JoinRoute() {
  const { token } = useLocalSearchParams<{ token: string }>();
  return <JoinScreen key={token} token={token} />;
}
