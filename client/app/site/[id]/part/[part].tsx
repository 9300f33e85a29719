import { useLocalSearchParams } from 'expo-router';
import { PartScreen } from '../../../../src/survey/PartScreen';

export default function PartRoute() {
  const { part, field } = useLocalSearchParams<{ part: string; field?: string }>();
  return <PartScreen key={part} partId={part} field={field ?? null} />;
}
