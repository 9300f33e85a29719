import type { PropsWithChildren, ReactNode } from 'react';
import { Pressable, View, type PressableProps } from 'react-native';
import { T } from './text';

interface ButtonProps extends Omit<PressableProps, 'children'> {
  label: string;
  /** `main` is the one act of a screen; `plain` is text that can be tapped; `second` belongs to proposals. */
  kind?: 'main' | 'quiet' | 'plain' | 'second';
  icon?: ReactNode;
}

const KINDS = {
  main: ['bg-ink px-4', 'text-paper'],
  quiet: ['border-2 border-ink px-4', 'text-ink'],
  plain: ['', 'text-lamp'],
  second: ['border-2 border-second px-4', 'text-second'],
} as const;

/** At least 56 px high, so that a gloved thumb finds it. */
export function Button({ label, kind = 'quiet', icon, className = '', disabled, ...rest }: ButtonProps) {
  const [box, text] = KINDS[kind];
  return (
    <Pressable
      role="button"
      aria-label={label}
      disabled={disabled}
      aria-disabled={disabled ?? false}
      className={`min-h-[56px] flex-row items-center justify-center gap-2 rounded-[4px] active:opacity-70 ${box} ${disabled ? 'opacity-50' : ''} ${className}`}
      {...rest}
    >
      {icon}
      <T look="head" className={text}>
        {label}
      </T>
    </Pressable>
  );
}

/** A row that opens something: full width, ruled below, at least 56 px. */
export function Row({ children, className = '', ...rest }: PropsWithChildren<PressableProps>) {
  return (
    <Pressable
      role="button"
      className={`min-h-[56px] flex-row items-center gap-3 border-b border-rule px-[18px] py-2 active:bg-well ${className}`}
      {...rest}
    >
      {children as ReactNode}
    </Pressable>
  );
}

/** One of a few answers (or any number of them, with `many`), as a chip of 48 px. */
export function Chip({
  label,
  on,
  many = false,
  ...rest
}: { label: string; on: boolean; many?: boolean } & Omit<PressableProps, 'children'>) {
  return (
    <Pressable
      role={many ? 'checkbox' : 'radio'}
      aria-checked={on}
      aria-label={label}
      className={`min-h-[48px] justify-center rounded-[4px] border-2 px-3 active:opacity-70 ${on ? 'border-ink bg-ink' : 'border-rule'}`}
      {...rest}
    >
      <T look="fact" className={on ? 'font-semi text-paper' : 'text-ink'}>
        {label}
      </T>
    </Pressable>
  );
}

/** A heavy line across. */
export const HeavyRule = () => <View className="h-[2px] bg-ink" />;

/** Empty, failed or not allowed: what is the matter, and the one thing to do about it. */
export function Plain({ title, text, children }: PropsWithChildren<{ title: string; text?: string }>) {
  return (
    <View className="flex-1 justify-center gap-3 px-[18px]">
      <T look="lead">{title}</T>
      {text ? <T className="text-soft">{text}</T> : null}
      {children}
    </View>
  );
}

/** Says what is being waited for; a spinner says nothing. */
export function Waiting({ what }: { what: string }) {
  return (
    <View className="flex-1 justify-center px-[18px]" role="status">
      <T className="text-soft">{what}</T>
    </View>
  );
}
