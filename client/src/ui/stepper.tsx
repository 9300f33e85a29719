import { Pressable, View } from 'react-native';
import { T } from './text';

interface StepperProps {
  label: string;
  value: number;
  min: number;
  max: number;
  /** How far one press goes. */
  step?: number;
  onChange(value: number): void;
}

/** A count with minus and plus of 64 px. */
export function Stepper({ label, value, min, max, step = 1, onChange }: StepperProps) {
  const key = (sign: '+' | '\u2212', next: number, name: string) => (
    <Pressable
      role="button"
      aria-label={`${label}: ${name}`}
      aria-disabled={next < min || next > max}
      disabled={next < min || next > max}
      onPress={() => onChange(next)}
      className={`h-16 w-16 items-center justify-center rounded-[4px] border-2 border-ink active:bg-well ${next < min || next > max ? 'opacity-40' : ''}`}
    >
      <T look="pad">{sign}</T>
    </Pressable>
  );
  return (
    <View className="flex-row items-center gap-4">
      <T look="station" className="flex-1">
        {label}
      </T>
      {key('\u2212', value - step, 'one less')}
      <T look="pad" className="w-12 text-center" aria-live="polite">
        {value}
      </T>
      {key('+', value + step, 'one more')}
    </View>
  );
}
