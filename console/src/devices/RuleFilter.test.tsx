import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import { FilterRow, useFilters } from '../ui/filters';
import { RuleFilter } from './RuleFilter';

function Row() {
  const filters = useFilters(['rule'] as const);
  return (
    <FilterRow>
      <RuleFilter filters={filters} />
    </FilterRow>
  );
}

describe('a rule', () => {
  it('says how many devices it finds, and is kept in the address as a word to take away', async () => {
    const calls = serve({ 'GET /devices/count': { count: 12 } });
    const { address } = show(<Row />, '/devices');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText(/Rule/), { target: { value: 'os < 7.1 ' } });
    fireEvent.click(await screen.findByText('Show 12 devices'));
    expect(calls.find((c) => c.path === '/devices/count')!.query.get('rule')).toBe('os < 7.1');
    await waitFor(() => expect(address.now).toBe('/devices?rule=os+%3C+7.1'));
    fireEvent.click(screen.getByLabelText('Do not filter by os < 7.1'));
    expect(address.now).toBe('/devices');
  });

  it('that is none says where, and is not asked for', async () => {
    serve({
      'GET /devices/count': new Refusal(400, 'malformed', "Column 4: expected <, not '~'.", { column: 4 }),
    });
    show(<Row />, '/devices');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText(/Rule/), { target: { value: 'os ~ 7' } });
    const fault = await screen.findByRole('alert');
    expect(fault.textContent).toContain('os ~ 7\n   ^');
    expect(fault.textContent).toContain('Column 4: expected <');
    expect((screen.getByText('Show') as HTMLButtonElement).disabled).toBe(true);
  });
});
