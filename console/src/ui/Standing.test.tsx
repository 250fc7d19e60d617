import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Standing, standings } from './Standing';

describe('how something stands', () => {
  it('is said in a word as well as by a sign', () => {
    render(<Standing of="catching-up" reason="a change is on its way" />);
    expect(screen.getByText('catching up')).toBeTruthy();
    expect(screen.getByTitle('a change is on its way')).toBeTruthy();
  });

  it('has a shape of its own for each standing, so that colour is never the only sign', () => {
    const shapes = standings.map((s) => {
      const { container } = render(<Standing of={s} />);
      return container.querySelector('svg')!.innerHTML;
    });
    expect(new Set(shapes).size).toBe(standings.length);
  });
});
