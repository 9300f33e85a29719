import { Image, View } from 'react-native';
import { useFirm } from '../data/firm';
import { dayText } from './dates';
import { T } from './text';

/** The head of every paper: the firm's own name, address and mark, and the day; an offer says how long it stands. */
export function PaperHead({ offer = true }: { offer?: boolean }) {
  const { firm } = useFirm();
  return (
    <View className="flex-row items-end justify-between gap-4 border-b-2 border-ink pb-2">
      <View className="min-w-0 flex-1">
        {firm?.sheet.logo ? (
          <Image
            accessibilityLabel={firm.name}
            source={{ uri: firm.sheet.logo }}
            style={{ width: 180, height: 60 }}
            resizeMode="contain"
          />
        ) : null}
        <T look="station">{firm?.name ?? ''}</T>
        {firm?.sheet.address ? <T look="fact">{firm.sheet.address}</T> : null}
      </View>
      <T look="fact">
        {dayText(new Date())}
        {offer && firm?.sheet.validity_d ? `; stands for ${firm.sheet.validity_d} days` : ''}
      </T>
    </View>
  );
}
