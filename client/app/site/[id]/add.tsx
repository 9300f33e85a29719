import { useLocalSearchParams } from 'expo-router';
import { AddScreen } from '../../../src/survey/AddScreen';

export default function AddRoute() {
  const { kind } = useLocalSearchParams<{ kind?: string }>();
  return <AddScreen key={kind} kind={kind ?? null} />;
}
