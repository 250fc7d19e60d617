import { fireEvent, screen } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { show } from '../testing/service';
import { asOrdered, AT_ONCE, said, WhenFields, type When } from './WhenFields';

let now: When;

function Form({ timed = true, idle = true }: { timed?: boolean; idle?: boolean }) {
  const [when, setWhen] = useState(AT_ONCE);
  now = when;
  return <WhenFields when={when} onChange={setWhen} timed={timed} idle={idle} />;
}

describe('when an order is sent', () => {
  it('is at once unless something else is said', () => {
    show(<Form />);
    expect(said(now)).toBe(true);
    expect(asOrdered(now)).toEqual({ at: undefined, there: undefined, notInUse: undefined });
  });

  it('is a time where each device is, once it is given', () => {
    show(<Form />);
    fireEvent.change(screen.getByLabelText('When'), { target: { value: 'there' } });
    expect(said(now)).toBe(false);
    fireEvent.change(screen.getByLabelText('Time'), { target: { value: '2026-12-01T02:30' } });
    expect(said(now)).toBe(true);
    expect(asOrdered(now).there?.local).toBe('2026-12-01T02:30');
    expect(asOrdered(now).at).toBeUndefined();
    fireEvent.change(screen.getByLabelText('When'), { target: { value: 'at' } });
    expect(asOrdered(now).at).toBe(new Date('2026-12-01T02:30').toISOString());
    expect(asOrdered(now).there).toBeUndefined();
  });

  it('is hours of every night, which last some time', () => {
    show(<Form />);
    fireEvent.change(screen.getByLabelText('When'), { target: { value: 'hours' } });
    expect(asOrdered(now).there?.window).toEqual({ from: '22:00', to: '05:00' });
    fireEvent.change(screen.getByLabelText('Until'), { target: { value: '22:00' } });
    expect(said(now)).toBe(false);
  });

  it('waits for nobody to use a device where that is asked', () => {
    show(<Form timed={false} />);
    expect(screen.queryByLabelText('When')).toBeNull();
    fireEvent.click(screen.getByLabelText('Not while somebody uses it'));
    expect(asOrdered(now).notInUse).toBe(true);
  });
});
