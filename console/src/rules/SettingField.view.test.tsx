import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { SettingField } from './SettingField';

const setting = (type: Schemas['ValueType'], sensitive = false) =>
  ({ key: 's.x', type, sensitive }) as Schemas['Setting'];

describe('the form field of a setting', () => {
  it('gives a number back as a number, and nothing as nothing', () => {
    const change = vi.fn();
    render(
      <SettingField
        setting={setting({ kind: 'whole', min: 4, max: 16, unit: 'characters' })}
        value={6}
        onChange={change}
      />,
    );
    fireEvent.change(screen.getByRole('spinbutton'), { target: { value: '8' } });
    fireEvent.change(screen.getByRole('spinbutton'), { target: { value: '' } });
    expect(change.mock.calls).toEqual([[8], ['']]);
    expect(screen.getByText('characters')).toBeTruthy();
  });

  it('gives a flag back as true or false', () => {
    const change = vi.fn();
    render(<SettingField setting={setting({ kind: 'flag' })} value={true} onChange={change} />);
    fireEvent.change(screen.getAllByRole('combobox').at(-1)!, { target: { value: 'false' } });
    expect(change).toHaveBeenCalledWith(false);
  });

  it('offers what is each device’s own for texts of profiles, and nowhere else', () => {
    const change = vi.fn();
    const text = setting({ kind: 'text', min: 1, max: 200, multiline: true });
    const { rerender } = render(<SettingField own setting={text} value="Property of" onChange={change} />);
    fireEvent.change(screen.getByLabelText("Add what is each device's own"), {
      target: { value: 'Unit' },
    });
    expect(change).toHaveBeenCalledWith('Property of {self:Unit}');
    rerender(<SettingField setting={text} value="" onChange={change} />);
    expect(screen.queryByLabelText("Add what is each device's own")).toBeNull();
  });

  it('reads a list one a line', () => {
    const change = vi.fn();
    render(
      <SettingField
        setting={setting({ kind: 'items', maxItems: 5, of: { kind: 'text', min: 1, max: 20 } })}
        value={['a']}
        onChange={change}
      />,
    );
    fireEvent.change(screen.getAllByRole('textbox').at(-1)!, { target: { value: 'a\nb' } });
    expect(change).toHaveBeenCalledWith(['a', 'b']);
  });

  it('never shows a secret', () => {
    const { container } = render(
      <SettingField
        setting={setting({ kind: 'secret', min: 8, max: 63 }, true)}
        value="lantern"
        onChange={() => {}}
      />,
    );
    expect(container.querySelector('input')!.type).toBe('password');
  });
});
