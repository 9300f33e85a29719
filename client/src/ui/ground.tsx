import { vars } from 'nativewind';
import { createContext, useContext, useEffect, useMemo, useState, type PropsWithChildren } from 'react';
import { Modal, useColorScheme, View } from 'react-native';
import { readPreference, writePreference } from '../data/preferences';

/** Two grounds: Day for sunlight, Lamp for lockers and night. All text reaches 7:1 on its ground. */
export const GROUNDS = {
  day: {
    paper: '#F6F1E4',
    well: '#EDE6D4',
    rule: '#D8CFBA',
    soft: '#4F493B',
    ink: '#191712',
    lamp: '#8F3F06',
    second: '#085048',
  },
  lamp: {
    paper: '#14120D',
    well: '#201C14',
    rule: '#3A3427',
    soft: '#B9AE96',
    ink: '#F4E9D0',
    lamp: '#FFB04A',
    second: '#5CC9B8',
  },
} as const;

export type GroundName = keyof typeof GROUNDS;
export type Colours = Record<keyof (typeof GROUNDS)['day'], string>;

interface Ground {
  name: GroundName;
  colours: Colours;
  /** One tap to the other ground; remembered on this device. */
  toggle(): void;
}

const Context = createContext<Ground>({ name: 'day', colours: GROUNDS.day, toggle: () => undefined });
/** The ground that is chosen, its colours, and how to change it. */
export const useGround = () => useContext(Context);

const variablesOf = (colours: Colours) =>
  vars(Object.fromEntries(Object.entries(colours).map(([key, hex]) => [`--${key}`, hex])));

/** Over everything else. What stands there is drawn outside the app's root, so the ground goes with it. */
export function Over({ onClose, children }: PropsWithChildren<{ onClose(): void }>) {
  const { colours } = useGround();
  return (
    <Modal transparent onRequestClose={onClose}>
      <View style={variablesOf(colours)} className="flex-1">
        {children}
      </View>
    </Modal>
  );
}

/** All that stands on a ground: its colours for what draws, its variables for what is styled. */
const On = ({ ground, children }: PropsWithChildren<{ ground: Ground }>) => (
  <Context.Provider value={ground}>
    <View style={variablesOf(ground.colours)} className="flex-1 bg-paper">
      {children}
    </View>
  </Context.Provider>
);

/** Black on white: what goes to the printer, whatever the ground of the screen. */
const PAPER: Colours = {
  paper: '#FFFFFF',
  well: '#F2F2F2',
  rule: '#BBBBBB',
  soft: '#333333',
  ink: '#000000',
  lamp: '#000000',
  second: '#000000',
};

const ON_PAPER: Ground = { name: 'day', colours: PAPER, toggle: () => undefined };

/** White, whatever ground is chosen: for what will be printed. */
export function PaperGround({ children }: PropsWithChildren) {
  return <On ground={ON_PAPER}>{children}</On>;
}

/** The chosen ground, for everything below. */
export function GroundProvider({ children }: PropsWithChildren) {
  const system = useColorScheme() === 'dark' ? 'lamp' : 'day';
  const [chosen, setChosen] = useState<GroundName | null>(() => readPreference('ground'));
  const name = chosen ?? system;
  const colours = GROUNDS[name];
  const value = useMemo<Ground>(
    () => ({
      name,
      colours,
      toggle() {
        const next = name === 'day' ? 'lamp' : 'day';
        setChosen(next);
        writePreference('ground', next);
      },
    }),
    [name, colours],
  );
  // What lies outside the app's own root (overscroll, the browser's bar) takes the ground too.
  useEffect(() => {
    if (typeof document === 'undefined') return;
    document.body.style.backgroundColor = colours.paper;
    document.documentElement.style.setProperty('--lamp', colours.lamp);
    document.querySelector('meta[name="theme-color"]')?.setAttribute('content', colours.paper);
  }, [colours]);
  return <On ground={value}>{children}</On>;
}
