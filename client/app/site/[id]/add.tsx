import { useLocalSearchParams } from 'expo-router';
import { AddScreen } from '../../../src/survey/AddScreen';

export default function AddRoute() {
  const { kind, from } = useLocalSearchParams<{ kind?: string; from?: string }>();
  return <AddScreen key={`${kind} ${from}`} kind={kind ?? null} from={from ?? null} />;
}
