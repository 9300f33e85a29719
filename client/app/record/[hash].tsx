import { useLocalSearchParams } from 'expo-router';
import { later } from '../../src/shell/later';

const RecordCheck = later('RecordCheck');

export default function RecordRoute() {
  const { hash } = useLocalSearchParams<{ hash: string }>();
  return <RecordCheck key={hash} hash={hash} />;
}
