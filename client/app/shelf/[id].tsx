import { useLocalSearchParams } from 'expo-router';
import { ItemScreen } from '../../src/shelf/ItemScreen';

export default function ItemRoute() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <ItemScreen key={id} id={id} />;
}
