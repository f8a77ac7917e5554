import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Filters, filtersOf } from './Filters';
import { FirstRun } from './FirstRun';

afterEach(cleanup);

const page = {
  populations: [{ id: 'kiosks', name: 'Ticket kiosks' }],
  cases: [],
  matching: 6,
  counts: { open: 6, routine: 40, answered: 1, content: 0 },
  choices: {
    kinds: ['SECURITY', 'DRIVER'],
    ratings: { CRITICAL: 2, UNRATED: 4 },
    vendors: ['Lantern'],
    suggestions: ['FORCE'],
    owners: ['A. Wren'],
    assignees: [],
  },
  hosts: 0,
  inNoPopulation: 0,
} satisfies Schemas['DocketPage'];

describe('the filters of the docket', () => {
  it('are read from the address, and what is none of ours is left out', () => {
    const asked = filtersOf(new URLSearchParams('rating=HIGH&exploited=yes&waiting=7&owner=A.+Wren'));
    expect(asked).toMatchObject({ rating: 'HIGH', exploited: true, waiting: 7, owner: 'A. Wren' });
    expect(filtersOf(new URLSearchParams('exploited=perhaps&waiting=-3'))).toMatchObject({ exploited: undefined, waiting: undefined });
  });
  it('tell how many cases are of each rating, and narrow to one with a press', () => {
    const set = vi.fn();
    const { rerender } = render(<Filters page={page} filters={{}} set={set} />);
    expect(screen.queryByRole('button', { name: /high/ })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: '2 critical' }));
    expect(set).toHaveBeenLastCalledWith({ rating: 'CRITICAL' });
    rerender(<Filters page={page} filters={{ rating: 'CRITICAL' }} set={set} />);
    fireEvent.click(screen.getByRole('button', { name: '2 critical', pressed: true }));
    expect(set).toHaveBeenLastCalledWith({ rating: undefined });
    fireEvent.click(screen.getByRole('button', { name: 'known exploited' }));
    expect(set).toHaveBeenLastCalledWith({ exploited: 'yes' });
  });
});

describe('an empty instance', () => {
  it('says at each step what is missing', () => {
    render(<FirstRun page={page} updates={3} />, { wrapper: MemoryRouter });
    const steps = screen.getAllByRole('listitem').map((step) => step.textContent);
    expect(steps[0]).toContain('None has reported yet.');
    expect(steps[1]).toContain('3 updates read.');
    expect(steps[2]).toContain('1 population.');
    expect(screen.getAllByRole('link', { name: 'Intake' })).toHaveLength(2);
  });
});
