/** Colours are variables set by the ground (Day or Lamp) in src/ui/ground.tsx; nothing else names a colour. */
module.exports = {
  content: ['./app/**/*.{ts,tsx}', './src/**/*.{ts,tsx}'],
  presets: [require('nativewind/preset')],
  theme: {
    extend: {
      colors: {
        paper: 'var(--paper)',
        well: 'var(--well)',
        rule: 'var(--rule)',
        soft: 'var(--soft)',
        ink: 'var(--ink)',
        lamp: 'var(--lamp)',
        second: 'var(--second)',
      },
      fontFamily: {
        sans: ['Hyperlegible'],
        semi: ['HyperlegibleSemi'],
        bold: ['HyperlegibleBold'],
        mono: ['HyperlegibleMono'],
        monoBold: ['HyperlegibleMonoBold'],
      },
      fontSize: {
        small: ['14px', '20px'],
        fact: ['15px', '21px'],
        base: ['16px', '23px'],
        station: ['18px', '24px'],
        figure: ['20px', '26px'],
        lead: ['23px', '28px'],
        pad: ['26px', '32px'],
      },
    },
  },
};
