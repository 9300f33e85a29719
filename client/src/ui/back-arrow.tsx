import { Pressable } from 'react-native';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import { useGround } from './ground';

/** The way back at the head of a page; paper has none. */
export function BackArrow({ label, onPress }: { label: string; onPress(): void }) {
  const { colours } = useGround();
  return (
    <Pressable
      role="button"
      aria-label={label}
      onPress={onPress}
      className="h-14 w-14 items-center justify-center active:opacity-60 print:hidden"
    >
      <ArrowLeft size={26} color={colours.ink} />
    </Pressable>
  );
}
