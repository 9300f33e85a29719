import { fireEvent, render, screen } from '@testing-library/react-native';
import { ReadingPad } from '../src/entry/ReadingPad';

/** A quantity that is a difference, typed as the two figures that a person reads. */

const saved = jest.fn();
const key = (name: string) => fireEvent.press(screen.getByRole('button', { name }));
const type = (...keys: string[]) => keys.forEach(key);
beforeEach(() => saved.mockClear());

test('with the inverter on and off: the difference is judged and kept, with both figures', () => {
  const test = { expected: 0.8, low: 0.6, high: 1, unit: 'A' };
  render(<ReadingPad quantity="idle_A" test={test} onSave={saved} label="Save" />);
  fireEvent.press(screen.getByRole('radio', { name: 'Inverter on, inverter off' }));
  type('2', 'point', '1');
  // Half of a pair is no reading.
  key('Save');
  expect(saved).not.toHaveBeenCalled();
  key('Next');
  expect(screen.getByText(/Inverter on 2.1/)).toBeTruthy();
  type('1', 'point', '2');
  expect(screen.getByTestId('reading-judged')).toHaveTextContent('inside');
  key('Save');
  expect(saved).toHaveBeenCalledWith(0.9, 'inside', [2.1, 1.2]);
});

test('one figure stays one figure; what is no difference is not asked for two', () => {
  render(<ReadingPad quantity="drop_V" test={null} onSave={saved} label="Save" />);
  type('0', 'point', '3');
  key('Save');
  expect(saved).toHaveBeenCalledWith(0.3, null, null);
  screen.unmount();
  render(<ReadingPad quantity="rest_V" test={null} onSave={saved} label="Save" />);
  expect(screen.queryByRole('radio')).toBeNull();
});
