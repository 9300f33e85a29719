import { useLocalSearchParams } from 'expo-router';
import { later } from '../../src/shell/later';

const ItemScreen = later('ItemScreen');

export default function ItemRoute() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <ItemScreen key={id} id={id} />;
}
