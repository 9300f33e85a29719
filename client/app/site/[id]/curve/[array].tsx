import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../../src/shell/later';

const CurveScreen = later('CurveScreen');

export default function CurveRoute() {
  const { array } = useLocalSearchParams<{ array: string }>();
  return <CurveScreen key={array} arrayId={array} />;
}
