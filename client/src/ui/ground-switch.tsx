import Moon from 'lucide-react-native/icons/lamp';
import Sun from 'lucide-react-native/icons/sun';
import { Pressable } from 'react-native';
import { useGround } from './ground';

/** One tap between Day and Lamp. */
export function GroundSwitch() {
  const { name, colours, toggle } = useGround();
  const Icon = name === 'day' ? Moon : Sun;
  return (
    <Pressable
      role="button"
      aria-label={name === 'day' ? 'Lamp: dark ground' : 'Day: light ground'}
      onPress={toggle}
      className="h-12 w-12 items-center justify-center active:opacity-60"
    >
      <Icon size={24} color={colours.ink} />
    </Pressable>
  );
}
