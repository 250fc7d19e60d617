import * as React from 'react';
import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { type Begun, meet, useDraft } from './draft';
import { SavedMeanwhile } from './SavedMeanwhile';

const begun = (
  base: Record<string, unknown>,
  draft: Record<string, unknown>,
): Begun<Record<string, unknown>> => ({
  ...{ base, draft, version: 1, clashes: [], meanwhile: false },
});

describe('a draft that meets what somebody else saved', () => {
  it('takes over what was not touched here', () => {
    const met = meet(
      begun({ name: 'a', site: 's' }, { name: 'mine', site: 's' }),
      { name: 'a', site: 't' },
      2,
    );
    expect(met.draft).toEqual({ name: 'mine', site: 't' });
    expect(met.clashes).toEqual([]);
    expect(met.meanwhile).toBe(true);
  });

  it('keeps what was typed, and says where both changed something', () => {
    const met = meet(begun({ name: 'a' }, { name: 'mine' }), { name: 'theirs' }, 2);
    expect(met.draft).toEqual({ name: 'mine' });
    expect(met.clashes).toEqual([{ field: 'name', mine: 'mine', theirs: 'theirs' }]);
  });

  it('says nothing when they saved what is typed here, or nothing is', () => {
    expect(meet(begun({ name: 'a' }, { name: 'b' }), { name: 'b' }, 2).meanwhile).toBe(false);
    const untouched = meet(begun({ name: 'a' }, { name: 'a' }), { name: 'b' }, 2);
    expect(untouched.meanwhile).toBe(false);
    expect(untouched.draft).toEqual({ name: 'b' });
  });

  it('takes a field away that they took away, unless it was written here', () => {
    const base = { name: 'a', one: 1, two: 2 };
    const met = meet(begun(base, { name: 'a', one: 1, two: 3 }), { name: 'a' }, 2);
    expect(met.draft).toEqual({ name: 'a', two: 3 });
    expect(met.clashes).toEqual([{ field: 'two', mine: 3, theirs: undefined }]);
  });

  it('keeps a clash until it is settled, however often it is saved', () => {
    const first = meet(begun({ name: 'a' }, { name: 'mine' }), { name: 'theirs' }, 2);
    expect(meet(first, { name: 'theirs' }, 3).clashes).toHaveLength(1);
  });
});

function Form({ saved, version }: { saved: { name: string }; version: number }) {
  const writing = useDraft(saved, version);
  return (
    <>
      <input
        aria-label="Name"
        value={writing.draft.name}
        onChange={(e) => writing.set({ name: e.target.value })}
      />
      <span data-testid="version">{writing.version}</span>
      <SavedMeanwhile draft={writing} subject="unit:u" called={() => 'Name'} />
    </>
  );
}

describe('a form of it', () => {
  const name = () => (screen.getByLabelText('Name') as HTMLInputElement).value;

  it('says who saved it and lets one choose', async () => {
    serve({ 'GET /journal': { items: [{ who: 'bo', at: new Date().toISOString() }] } });
    let again: (version: number) => void = () => undefined;
    function Page() {
      const [version, setVersion] = React.useState(1);
      again = setVersion;
      return <Form saved={{ name: version === 1 ? 'Quay' : 'Harbour' }} version={version} />;
    }
    show(<Page />);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Pier' } });
    React.act(() => again(2));
    expect(await screen.findByText('bo')).toBeTruthy();
    expect(name()).toBe('Pier');
    expect(screen.getByTestId('version').textContent).toBe('2');
    fireEvent.click(screen.getByRole('button', { name: 'Take theirs' }));
    expect(name()).toBe('Harbour');
    expect(screen.queryByRole('button', { name: 'Take theirs' })).toBeNull();
  });

  it('follows what is saved while nothing is typed', () => {
    serve({});
    let again: (version: number) => void = () => undefined;
    function Page() {
      const [version, setVersion] = React.useState(1);
      again = setVersion;
      return <Form saved={{ name: version === 1 ? 'Quay' : 'Harbour' }} version={version} />;
    }
    show(<Page />);
    React.act(() => again(2));
    expect(name()).toBe('Harbour');
  });
});
