import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import { type Preferences, USUAL } from '#server/auth/preferences';
import { renderPage } from '../../testing/render';
import { PreferencesContext } from '../measures/useMeasures';
import { NumberField, type NumberFieldProps } from './NumberField';

interface PageProps {
  props: Partial<NumberFieldProps>;
  chosen: Partial<Preferences>;
  told: (value: number | null) => void;
}

/** A field whose value is kept as a page keeps it. */
function PageWithField({ props, chosen, told }: PageProps) {
  const [value, setValue] = useState<number | null>(props.value === undefined ? 16 : props.value);
  const onChange = (next: number | null) => {
    told(next);
    setValue(next);
  };
  const field = { kind: 'length', label: 'Width', ...props, value, onChange } as NumberFieldProps;
  return (
    <PreferencesContext value={{ ...USUAL, ...chosen }}>
      <NumberField {...field} />
      <button type="button" onClick={() => setValue(99)}>
        From elsewhere
      </button>
    </PreferencesContext>
  );
}

function openField(props: Partial<NumberFieldProps> = {}, chosen: Partial<Preferences> = {}) {
  const told = vi.fn();
  const page = renderPage(<PageWithField {...{ props, chosen, told }} />);
  const field = screen.getByRole('textbox', { name: 'Width' }) as HTMLInputElement;
  return { ...page, field, told };
}

describe('the field for numbers', () => {
  it.each([
    ['3.5', '3.5 mm', 3.5],
    ['3,5', '3.5 mm', 3.5],
    ['-7,5', '-7.5 mm', -7.5],
    ['1.200,5', '1\u202f200.5 mm', 1200.5],
    ['12 in', '304.8 mm', 304.8],
    ['120/2+3', '63 mm', 63],
  ])('keeps %s while it is typed, and shows %s when it is left', async (text, shown, value) => {
    const { user, field, told } = openField();
    await user.click(field);
    await user.keyboard(text.replace(/[{[]/g, '$&$&'));
    expect(field.value).toBe(text);
    await user.tab();
    expect(field.value).toBe(shown);
    expect(told).toHaveBeenLastCalledWith(value);
  });

  it('says what it understood where that is more than what stands there', async () => {
    const { user, field } = openField();
    await user.click(field);
    await user.keyboard('12 in');
    expect(screen.getByRole('status').textContent).toBe('= 304.8 mm');
    await user.clear(field);
    await user.keyboard('12');
    expect(screen.getByRole('status').textContent).toBe('');
  });

  it('refuses in words, keeps what was typed, and changes nothing', async () => {
    const { user, field, told } = openField({ kind: 'percent', most: 100, value: 35 });
    await user.click(field);
    await user.keyboard('500 %');
    await user.tab();
    expect([field.value, field.getAttribute('aria-invalid')]).toEqual(['500 %', 'true']);
    expect(screen.getByRole('status').textContent).toBe('At most 100 %.');
    await user.click(field);
    await user.keyboard('a lot');
    expect(screen.getByRole('status').textContent).toMatch(/“a lot” is not a part of a hundred/);
    expect(told).not.toHaveBeenCalled();
    await user.keyboard('{Escape}');
    expect(field.value).toBe('35 %');
    await user.keyboard('500 %');
    await user.tab();
    await user.click(screen.getByRole('button', { name: 'From elsewhere' }));
    expect(field.value).toBe('99 %');
  });

  it('passes on what is typed after a pause, at once by Enter, and by steps with the arrows', async () => {
    const { user, field, told } = openField({ least: 0, most: 20 });
    await user.click(field);
    await user.keyboard('7');
    expect(told).not.toHaveBeenCalled();
    await waitFor(() => expect(told).toHaveBeenCalledWith(7));
    expect(field.value).toBe('7');
    await user.clear(field);
    await user.keyboard('8{Enter}');
    expect(told).toHaveBeenLastCalledWith(8);
    await user.keyboard('{ArrowUp}{ArrowUp}');
    expect(told).toHaveBeenLastCalledWith(10);
    await user.clear(field);
    await user.keyboard('20{ArrowUp}');
    expect(told).toHaveBeenLastCalledWith(20);
    expect(field.value).toBe('20 mm');
  });

  it('shows what it takes by itself where nothing is chosen, and can be emptied', async () => {
    const { user, field, told } = openField({ empty: '16 mm, from the size', value: 8 });
    expect(field.placeholder).toBe('16 mm, from the size');
    await user.clear(field);
    await user.tab();
    expect(told).toHaveBeenLastCalledWith(null);
  });

  it('goes back to its value when it is emptied and needs one', async () => {
    const { user, field, told } = openField();
    await user.clear(field);
    await user.tab();
    expect([field.value, told.mock.calls.length]).toEqual(['16 mm', 0]);
  });

  it('speaks in the units and signs of whoever types', async () => {
    const { user, field, told } = openField({ value: 12.7 }, { length: 'in', decimal: ',' });
    expect(field.value).toBe('0,5 in');
    await user.click(field);
    await user.keyboard('1,25{Enter}');
    expect(told).toHaveBeenLastCalledWith(31.75);
    expect(field.value).toBe('1,25 in');
  });
});
