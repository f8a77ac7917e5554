import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { HolidaySection } from './HolidaySection';
import { documentOf, type Ladder, unfinished, without, withRead } from './ladder';

const now = new Date('2026-12-01T09:00:00Z');

const ladder: Ladder = {
  format: 'populations-1',
  fleetRule: { otherwise: 30 },
  populations: [
    { id: 'yard', name: 'Yard servers', condition: 'role = yard', tier: 2, rule: { otherwise: 5 } },
    { id: 'desks', name: 'Office desktops', condition: 'role = desktop', tier: 3, rule: { otherwise: 5 } },
  ],
  holidays: [
    {
      name: 'Shore',
      populations: ['yard'],
      days: [
        { day: '2026-11-18', name: 'Long over' },
        { day: '2026-12-16', name: 'Quay Day' },
        { day: '2027-06-01', until: '2027-06-02', name: 'Harbour Days' },
      ],
    },
  ],
};

let saved: Ladder;

function Section({ open = true, begun = ladder, analyst = true }: { open?: boolean; begun?: Ladder; analyst?: boolean }) {
  const [worded, word] = useState(begun);
  saved = worded;
  const none = () => undefined;
  return <HolidaySection ladder={worded} current open={open} analyst={analyst} now={now} word={word} begin={none} finish={none} />;
}

const text = () => document.body.textContent?.replace(/\s+/g, ' ') ?? '';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function choose(name: string, answer: object, status = 200) {
  vi.stubGlobal('fetch', () =>
    Promise.resolve(new Response(JSON.stringify(answer), { status, headers: { 'Content-Type': 'application/json' } })),
  );
  fireEvent.change(screen.getByLabelText('iCalendar file of holidays'), { target: { files: [new File(['BEGIN:VCALENDAR'], name)] } });
}

describe('holidays', () => {
  it('are told with whose they are and until when they are known', () => {
    render(<Section open={false} analyst={false} />);
    expect(text()).toContain(
      'Shore, for Yard servers: Quay Day Wed 16 Dec, Harbour Days Tue 1 Jun 2027 to Wed 2 Jun 2027; known until Wed 2 Jun 2027.',
    );
    expect(screen.queryByRole('button')).toBeNull();
    cleanup();
    render(<Section open={false} begun={{ ...ladder, holidays: [] }} />);
    expect(text()).toContain('None are known');
    cleanup();
    render(<Section open={false} begun={{ ...ladder, holidays: [{ name: 'Empty' }] }} />);
    expect(text()).toContain('Empty, for all: no day ahead is known.');
  });
  it('are worded, one by one', () => {
    render(<Section />);
    fireEvent.change(screen.getAllByLabelText('Name of the holiday')[0] as HTMLElement, { target: { value: 'Pier Day' } });
    fireEvent.change(screen.getByLabelText('Day of Pier Day'), { target: { value: '17 Dec' } });
    fireEvent.click(screen.getByLabelText('Leave out Harbour Days'));
    expect(saved.holidays?.[0]?.days).toEqual([
      { day: '2026-11-18', name: 'Long over' },
      { day: '2026-12-17', name: 'Pier Day' },
    ]);
    fireEvent.click(screen.getByText('Add a day'));
    expect(unfinished(saved)?.words).toBe('Give every holiday of Shore a name.');
    fireEvent.click(screen.getByText('remove the calendar'));
    expect(saved.holidays).toEqual([]);
    fireEvent.click(screen.getByText('Word a calendar'));
    expect(saved.holidays).toEqual([{ name: 'Holidays 1' }]);
    fireEvent.change(screen.getByLabelText('Name of the calendar'), { target: { value: '' } });
    expect(unfinished(saved)?.words).toBe('Give every calendar of holidays a name.');
  });
  it('come from a file, of which is told what was left out', async () => {
    render(<Section />);
    const days = [
      { first: '2026-12-16', last: '2026-12-16', name: 'Quay Day' },
      { first: '2026-12-25', last: '2026-12-26', name: 'Midwinter' },
    ];
    const leftOut = [{ place: 'event 3 (Party)', reason: 'is at a time of the day; holidays are whole days' }];
    choose('shore.ics', { name: 'Shore', days, past: 2, until: '2029-12-31', leftOut });
    await waitFor(() => expect(text()).toContain('shore.ics: 2 holidays until Mon 31 Dec 2029 in Shore'));
    expect(text()).toContain('2 events over');
    expect(text()).toContain('event 3 (Party) is at a time of the day');
    expect(saved.holidays?.[0]).toEqual({
      name: 'Shore',
      populations: ['yard'],
      days: [
        { day: '2026-11-18', name: 'Long over' },
        { day: '2026-12-16', name: 'Quay Day' },
        { day: '2026-12-25', until: '2026-12-26', name: 'Midwinter' },
        { day: '2027-06-01', until: '2027-06-02', name: 'Harbour Days' },
      ],
    });
  });
  it('change nothing where the file cannot be read', async () => {
    render(<Section />);
    choose('x.txt', { detail: 'this is no iCalendar file' }, 422);
    await waitFor(() => expect(text()).toContain('x.txt: this is no iCalendar file. Nothing was changed.'));
    expect(saved).toBe(ladder);
  });
  it('of a population that is left out never become those of all', () => {
    expect(without(ladder, 0).holidays).toEqual([]);
    expect(without(ladder, 1).holidays).toEqual(ladder.holidays);
    const both = { ...ladder, holidays: [{ name: 'Both', populations: ['yard', 'desks'] }] };
    expect(without(both, 0).holidays).toEqual([{ name: 'Both', populations: ['desks'] }]);
  });
  it('of a file without the name of a known calendar are a calendar of their own', () => {
    const more = withRead(ladder, 'Fjordene', [{ first: '2027-01-01', last: '2027-01-01', name: 'New Year' }]);
    expect(more.holidays?.map(({ name }) => name)).toEqual(['Shore', 'Fjordene']);
    expect(JSON.parse(documentOf(more)).holidays[1]).toEqual({ name: 'Fjordene', days: [{ day: '2027-01-01', name: 'New Year' }] });
  });
});
