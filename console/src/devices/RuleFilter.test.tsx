import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { serve, show, type Call } from '../testing/service';
import { FilterRow, useFilters } from '../ui/filters';
import { composed, rowsOf, type Subject, turned, valued } from './rule';
import { RuleField } from './RuleField';
import { RuleFilter } from './RuleFilter';

const is = { word: 'is', title: 'is one of', value: 'platform', several: true } as const;
const LANGUAGE: Subject[] = [
  { word: 'platform', title: 'Platform', of: 'none', relations: [is] },
  {
    word: 'os',
    title: 'OS version',
    of: 'none',
    relations: [{ word: '<', title: 'is below', value: 'version', several: false }],
  },
  {
    word: 'tag',
    title: 'Tag',
    of: 'none',
    relations: [{ word: 'has', title: 'has', value: 'tag', several: false }],
  },
  {
    word: 'seen',
    title: 'Last seen',
    of: 'none',
    relations: [{ word: 'within', title: 'within', value: 'span', several: false }],
  },
];

const none = { examples: [], any: false, parts: [], from: 0, to: 0, choices: [] };
const OLD = {
  ...none,
  devices: 12,
  examples: ['VM-GLA kiosk 001'],
  parts: [
    {
      not: false,
      text: 'os < 7.1',
      condition: { subject: 'os', of: '', relation: '<', values: ['7.1'] },
    },
    {
      not: true,
      text: 'tag has spare',
      condition: { subject: 'tag', of: '', relation: 'has', values: ['spare'] },
    },
    { not: false, text: '(managed or retired)' },
  ],
};

function Row() {
  const filters = useFilters(['rule'] as const);
  return (
    <FilterRow>
      <RuleFilter filters={filters} />
    </FilterRow>
  );
}

function Alone({ begin }: { begin: string }) {
  const [rule, setRule] = useState(begin);
  return (
    <>
      <RuleField value={rule} onChange={setRule} />
      <output>{rule}</output>
    </>
  );
}

const rule = (call: Call) => (call.body as { rule: string }).rule;

describe('a rule', () => {
  it('says how many devices it finds, and is kept in the address as a word to take away', async () => {
    const calls = serve({ 'POST /device-rules/reading': OLD });
    const { address } = show(<Row />, '/devices');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('Rule'), { target: { value: 'os < 7.1 ' } });
    fireEvent.click(await screen.findByText('Show 12 devices'));
    expect(calls.some((c) => c.path === '/device-rules/reading' && rule(c) === 'os < 7.1 ')).toBe(true);
    await waitFor(() => expect(address.now).toBe('/devices?rule=os+%3C+7.1'));
    fireEvent.click(screen.getByLabelText('Do not filter by os < 7.1'));
    expect(address.now).toBe('/devices');
  });

  it('that is none says where, on its own line, and is not asked for', async () => {
    serve({
      'POST /device-rules/reading': {
        ...none,
        fault: { column: 16, message: "column 16: expected <, not '~'" },
      },
    });
    show(<Row />, '/devices');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('Rule'), { target: { value: 'managed and\nos ~ 7' } });
    const fault = await screen.findByRole('alert');
    expect(fault.textContent).toContain('os ~ 7\n   ^');
    expect(fault.textContent).toContain('column 16: expected <');
    expect((screen.getByText('Show') as HTMLButtonElement).disabled).toBe(true);
  });

  it('is completed by keyboard from what there is', async () => {
    serve({
      'POST /device-rules/reading': (call: Call) =>
        rule(call) === 'unit in gla'
          ? {
              ...none,
              fault: { column: 9, message: 'x' },
              from: 8,
              to: 11,
              choices: [{ text: 'VM-GLA', note: 'Glasshouse' }],
            }
          : none,
    });
    show(<Alone begin="" />);
    const field = screen.getByLabelText<HTMLTextAreaElement>('Rule');
    fireEvent.change(field, { target: { value: 'unit in gla' } });
    expect(await screen.findByText('Glasshouse')).toBeTruthy();
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(field.value).toBe('unit in VM-GLA ');
  });

  it('is one rule in words and as conditions', async () => {
    serve({ 'POST /device-rules/reading': OLD, 'GET /device-rules/language': LANGUAGE });
    show(<Alone begin="os < 7.1 and not tag has spare and (managed or retired)" />);
    fireEvent.click(screen.getByText('As conditions'));
    const rows = await screen.findAllByLabelText('Condition');
    expect(rows).toHaveLength(3);
    expect(rows[2]!.textContent).toContain('(managed or retired)');
    const how = within(rows[1]!).getByLabelText<HTMLSelectElement>('How');
    expect(how.selectedOptions[0]!.textContent).toBe('has not');
    fireEvent.change(within(rows[0]!).getByLabelText('Value'), { target: { value: '7.2' } });
    fireEvent.change(screen.getByLabelText('All or any'), { target: { value: 'true' } });
    fireEvent.click(within(rows[1]!).getByLabelText('Take the condition out'));
    expect(screen.getByRole('status').textContent).toBe('os < 7.2\nor (managed or retired)');
  });
});

describe('conditions', () => {
  it('are put together as they are taken apart', () => {
    const rows = rowsOf(LANGUAGE, OLD);
    expect(composed(LANGUAGE, false, rows)).toBe('os < 7.1\nand not tag has spare\nand (managed or retired)');
    const seen = rowsOf(LANGUAGE, {
      ...none,
      parts: [
        {
          not: false,
          text: 'seen within 7 days',
          condition: { subject: 'seen', of: '', relation: 'within', values: ['7', 'days'] },
        },
      ],
    });
    expect(composed(LANGUAGE, true, seen)).toBe('seen within 7 days');
  });

  it('quote what has to be', () => {
    expect(valued('tarn, fell walker', is)).toBe('tarn, "fell walker"');
    expect(valued('say "quay"')).toBe('"say ""quay"""');
    expect(valued('"quoted already"')).toBe('"quoted already"');
    expect(turned('is one of')).toBe('is not one of');
    expect(turned('within')).toBe('not within');
  });
});
