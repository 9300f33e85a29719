import { useLocalSearchParams } from 'expo-router';
import { CurveScreen } from '../../../../src/check/CurveScreen';

export default function CurveRoute() {
  const { array } = useLocalSearchParams<{ array: string }>();
  return <CurveScreen key={array} arrayId={array} />;
}
