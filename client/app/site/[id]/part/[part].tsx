import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const PartScreen = later('PartScreen');

export default function PartRoute() {
  const { part, field } = useLocalSearchParams<{ part: string; field?: string }>();
  return <PartScreen key={part} partId={part} field={field ?? null} />;
}
