import { messageOf } from '@true-lantern/core/base';
import { readEntry } from '../ui/number-entry';
import type { Firm, FirmSheet } from '@true-lantern/wire';
import { useState } from 'react';
import { Image, View } from 'react-native';
import { ApiError } from '../data/api';
import { chooseFile } from '../data/files';
import { removeLogo, setLogo, setSheet } from '../data/firm';
import { useAskAgain } from '../data/people';
import { Button, Chip } from '../ui/controls';
import { TextField } from '../ui/field';
import { T } from '../ui/text';
import { WORDS } from '../ui/words';

type Text = 'address' | 'registration' | 'currency' | 'payment' | 'tax_pct' | 'validity_d';
const FIELDS: { name: Text; label: string; lines?: number; number?: boolean }[] = [
  { name: 'address', label: 'Address', lines: 3 },
  { name: 'registration', label: 'Registration details', lines: 2 },
  { name: 'currency', label: 'Currency' },
  { name: 'tax_pct', label: 'Tax, %', number: true },
  { name: 'payment', label: 'Payment terms', lines: 2 },
  { name: 'validity_d', label: 'Offer valid for, days', number: true },
];
const PRICES: { value: NonNullable<FirmSheet['prices']>; label: string }[] = [
  { value: 'everybody', label: 'everybody' },
  { value: 'no-readers', label: 'everyone except readers' },
  { value: 'owners', label: 'owners only' },
];

/** What the firm's papers show, and who sees prices. */
export function SheetEntry({ firm }: { firm: Firm }) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [picked, setPicked] = useState<Partial<FirmSheet>>({});
  const [said, setSaid] = useState<{ text: string; path?: string } | null>(null);
  const askAgain = useAskAgain();
  const stands = { name: firm.name, ...firm.sheet } as Record<string, unknown>;
  const shown = (name: string) => typed[name] ?? String(stands[name] ?? '');
  const choice = { prices: 'everybody', paper: 'A4', ...firm.sheet, ...picked };
  const attempt = async (act: () => Promise<unknown>, done: string) => {
    try {
      await act();
      setTyped({});
      setSaid({ text: done });
      askAgain();
    } catch (error) {
      const fault = error instanceof ApiError ? error.faults[0] : undefined;
      setSaid(fault ? { text: `It ${fault.message}.`, path: fault.path } : { text: messageOf(error) });
    }
  };
  const save = () => {
    const text = (name: Text) => shown(name).trim();
    const number = (name: Text) => (text(name) === '' ? null : (readEntry(text(name)) ?? text(name)));
    const sheet = Object.fromEntries(FIELDS.map(({ name, number: is }) => [name, is ? number(name) : text(name)]));
    return attempt(
      () => setSheet({ ...sheet, name: shown('name').trim(), paper: choice.paper, prices: choice.prices }),
      'Kept.',
    );
  };
  const field = (name: string, label: string, lines = 1) => (
    <TextField
      key={name}
      label={label}
      value={shown(name)}
      onChangeText={(value) => setTyped((known) => ({ ...known, [name]: value }))}
      error={said?.path === name ? said.text : undefined}
      {...(lines > 1 ? { multiline: true, numberOfLines: lines } : {})}
    />
  );
  return (
    <View className="gap-3 px-[18px] py-3">
      {field('name', 'Name of the firm')}
      {FIELDS.map(({ name, label, lines }) => field(name, label, lines))}
      <T>Paper</T>
      <View role="radiogroup" aria-label="Paper" className="flex-row gap-2">
        {(['A4', 'letter'] as const).map((paper) => (
          <Chip
            key={paper}
            label={paper}
            on={choice.paper === paper}
            onPress={() => setPicked((known) => ({ ...known, paper }))}
          />
        ))}
      </View>
      <T>Who sees prices</T>
      <View role="radiogroup" aria-label="Who sees prices" className="flex-row flex-wrap gap-2">
        {PRICES.map(({ value, label }) => (
          <Chip
            key={value}
            label={label}
            on={choice.prices === value}
            onPress={() => setPicked((known) => ({ ...known, prices: value }))}
          />
        ))}
      </View>
      {said && !said.path ? (
        <T look="head" role="status">
          {said.text}
        </T>
      ) : null}
      <Button label="Save firm sheet" kind="main" onPress={() => void save()} />
      <Logo picture={firm.sheet.logo ?? null} attempt={attempt} />
    </View>
  );
}

interface LogoProps {
  picture: string | null;
  attempt(act: () => Promise<unknown>, done: string): Promise<void>;
}

function Logo({ picture, attempt }: LogoProps) {
  const takeLogo = async () => {
    const file = await chooseFile('image/png,image/jpeg,image/webp');
    if (file) await attempt(() => setLogo(file), 'Logo saved. It is printed on the papers.');
  };
  if (!picture) return <Button label="Upload a logo" onPress={() => void takeLogo()} />;
  return (
    <View className="gap-2">
      <Image
        accessibilityLabel="Logo of the firm"
        source={{ uri: picture }}
        style={{ width: 200, height: 80, backgroundColor: '#fff' }}
        resizeMode="contain"
      />
      <View className="flex-row gap-3">
        <Button label="Replace logo" className="flex-1" onPress={() => void takeLogo()} />
        <Button label={WORDS.remove} className="flex-1" onPress={() => void attempt(removeLogo, 'Logo removed.')} />
      </View>
    </View>
  );
}
