import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { Answers } from './DispatchPage';

const asked: Schemas['Dispatch'] = {
  ...{
    id: 'x1',
    command: 'ask',
    title: 'Ask a question',
    fields: { text: 'When?' },
    reason: '',
    actor: 'ada',
  },
  ...{
    at: '2026-03-02T09:00:00Z',
    expiresAt: '2026-03-09T09:00:00Z',
    total: 60,
    states: {},
    ended: false,
    read: 0,
  },
  notInUse: false,
  answers: { Monday: 20, Never: 14 },
};

describe('the answers to a question', () => {
  it('are summed up, and how many there are of how many', () => {
    render(<Answers of={asked} />);
    expect(screen.getByText('34 of 60 answered')).toBeTruthy();
    expect(screen.getAllByRole('listitem').map((l) => l.textContent)).toEqual(['Monday20', 'Never14']);
  });

  it('are there for questions alone', () => {
    const { container } = render(<Answers of={{ ...asked, command: 'message' }} />);
    expect(container.textContent).toBe('');
  });
});
