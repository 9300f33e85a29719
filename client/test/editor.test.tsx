import { fireEvent, render, screen } from '@testing-library/react-native';
import { fieldSpec } from '../src/data/fields';
import { readingOf } from '../src/entry/draft';
import { Editor } from '../src/entry/Editor';
import { METRIC } from '../src/data/units';
import { openCorrach } from './corrach';

const saved = jest.fn();
const site = openCorrach();
const row = site.rows.find(({ kind }) => kind === 'controllers')!;
const key = (name: string) => fireEvent.press(screen.getByRole('button', { name }));

function open(path: string, done = jest.fn()) {
  render(<Editor site={site} row={row} spec={fieldSpec('controllers', path)!} onSave={saved} onDone={done} />);
  return done;
}
beforeEach(() => saved.mockClear());

test('typing 175 V shows the verdict change before it is saved', () => {
  const done = open('maxPv_V');
  ['1', '7', '5'].forEach(key);
  expect(screen.getByText(/Over \u2192 OK/)).toBeTruthy();
  expect(saved).not.toHaveBeenCalled();
  key('Save');
  expect(saved).toHaveBeenCalledWith({ maxPv_V: 175, 'evidence/maxPv_V': { grade: 'nameplate' } }, row);
  expect(done).toHaveBeenCalled();
});

test('what somebody else sets while a field is open is not what its new value was meant against', () => {
  const editor = (now: typeof row) => (
    <Editor site={site} row={now} spec={fieldSpec('controllers', 'maxPv_V')!} onSave={saved} onDone={jest.fn()} />
  );
  const { rerender } = render(editor(row));
  rerender(editor({ ...row, revision: row.revision + 1, body: { ...row.body, maxPv_V: 160 } }));
  ['1', '7', '5'].forEach(key);
  key('Save');
  expect(saved).toHaveBeenCalledWith(expect.objectContaining({ maxPv_V: 175 }), row);
});

test('a number outside the physical range cannot be saved and says why', () => {
  open('maxPv_V');
  ['5', '0', '0', '0'].forEach(key);
  expect(screen.getByText('It is 5000, expected a number above 0 up to 1500.')).toBeTruthy();
  key('Save');
  expect(saved).not.toHaveBeenCalled();
});

test('"can\'t read it" makes the value unknown and takes its evidence with it', () => {
  open('maxPv_V');
  key("Can't read it");
  expect(saved).toHaveBeenCalledWith({ maxPv_V: null, 'evidence/maxPv_V': null }, row);
});

test('what the part cannot exist without cannot be made unknown', () => {
  open('maxOutput_A');
  expect(screen.queryByRole('button', { name: "Can't read it" })).toBeNull();
});

test('evidence alone can be changed', () => {
  open('maxPv_V');
  fireEvent.press(screen.getByRole('radio', { name: 'measured' }));
  key('Save');
  expect(saved).toHaveBeenCalledWith({ 'evidence/maxPv_V': { grade: 'measured' } }, row);
});

test('"between" stores the middle with both ends, as a guess until somebody says better', () => {
  open('maxPv_A');
  ['4', '0', 'to', '5', '0'].forEach(key);
  key('Save');
  expect(saved).toHaveBeenCalledWith({ maxPv_A: 45, 'evidence/maxPv_A': { grade: 'assumed', low: 40, high: 50 } }, row);
});

test('without a site nothing is judged, and the value is taken all the same', () => {
  render(
    <Editor site={null} row={row} spec={fieldSpec('controllers', 'maxPv_V')!} onSave={saved} onDone={jest.fn()} />,
  );
  ['9', '0'].forEach(key);
  key('Save');
  expect(saved).toHaveBeenCalledWith(expect.objectContaining({ maxPv_V: 90 }), row);
});

test('a comma that may mark thousands or decimals is read as the field allows, and asked about where it allows both', () => {
  const reading = (path: string, entry: string) => readingOf(fieldSpec('controllers', path)!, row, entry, METRIC);
  // A controller's volts end at 1,500: both would do. Its own use of 1,280 W would not.
  expect(reading('maxPv_V', '1,280').ask).toEqual({ grouped: '1280', decimal: '1.280' });
  expect(reading('maxPv_V', '1,600')).toEqual({ entry: '1.600', ask: null });
  expect(reading('maxPv_V', '1,280 V').ask).toEqual({ grouped: '1280 V', decimal: '1.280 V' });
  expect(reading('maxPv_V', '12,5')).toEqual({ entry: '12,5', ask: null });
  expect(reading('maxPv_V', '1.280')).toEqual({ entry: '1.280', ask: null });
});
