import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../src/shell/later';

const AddScreen = later('AddScreen');

export default function AddRoute() {
  const { kind, from, at, all, as } = useLocalSearchParams<{
    kind?: string;
    from?: string;
    at?: string;
    all?: string;
    as?: string;
  }>();
  return (
    <AddScreen
      key={`${kind} ${from} ${at} ${all} ${as}`}
      kind={kind ?? null}
      from={from ?? null}
      at={at ?? null}
      all={all === '1'}
      as={as ?? null}
    />
  );
}
