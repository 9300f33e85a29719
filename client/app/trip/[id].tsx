import { useLocalSearchParams } from 'expo-router';
import { later } from '../../src/shell/later';

const TripScreen = later('TripScreen');

export default function TripRoute() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TripScreen key={id} id={id} />;
}
