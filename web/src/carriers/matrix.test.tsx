import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { NO_HOSTS } from '../words/states';
import { shares } from './CarriedCurve';
import { DaySlider } from './DaySlider';
import { InForceCell, StateCell } from './MatrixCells';
import { MatrixFilters } from './MatrixFilters';
import { fileQuery, isNarrowed, matrixAsked } from './matrix';

const NOW = new Date('2026-11-30T04:00:00Z');

afterEach(cleanup);

const asked = (query: string) => matrixAsked(new URLSearchParams(query), '2026-11-30');

describe('what the address asks of the matrix', () => {
  it('is read word by word, and what cannot be is left out', () => {
    expect(asked('rating=HIGH&lacking=yes&age=30&due=OVERDUE&face=in-force')).toMatchObject({
      rating: 'HIGH',
      lacking: true,
      age: 30,
      due: 'OVERDUE',
      face: 'IN_FORCE',
    });
    expect(asked('age=old&lacking=no')).toMatchObject({ age: undefined, lacking: undefined });
    expect(asked('on=2026-11-10').on).toBe('2026-11-10');
    expect(asked('on=2026-11-30').on).toBeUndefined();
    expect(asked('on=yesterday').on).toBeUndefined();
  });

  it('tells whether anything is narrowed; an order narrows nothing', () => {
    expect(isNarrowed(asked('sort=DUE'))).toBe(false);
    expect(isNarrowed(asked('vendor=Lantern'))).toBe(true);
    expect(isNarrowed(asked('find=LNT'))).toBe(true);
  });

  it('goes into a file as it is seen, with both faces', () => {
    expect(fileQuery(asked('rating=HIGH&face=in-force&on=2026-11-10'))).toBe('rating=HIGH&on=2026-11-10');
  });
});

describe('a cell', () => {
  const show = (node: React.ReactNode) => render(<MemoryRouter>{node}</MemoryRouter>);
  const text = () => document.body.textContent ?? '';
  const nothing: Schemas['InForceCellView'] = { withheld: 0, needsVerdict: 0, offered: 0, byOperator: 0, overdue: 0 };
  const counts = { ...NO_HOSTS, carries: 3, missing: 44 };

  it('says how many of each, and until when', () => {
    const cell: Schemas['InForceCellView'] = {
      ...nothing,
      withheld: 41,
      nextEnd: '2026-12-09T00:00:00Z',
      offered: 3,
      nextDue: '2027-01-15T00:00:00Z',
      overdue: 2,
      most: { clause: 'STANDING_RULE', effect: 'WITHHELD', end: '2026-12-09T00:00:00Z' },
    };
    show(<InForceCell cell={cell} notRead={false} counts={counts} now={NOW} to="/carriers/A" />);
    expect(text()).toContain('2 overdue41 withheldto 8 Dec3 offereddue 14 Jan 2027');
  });

  it('says so where nothing but a verdict will ever offer it', () => {
    const cell: Schemas['InForceCellView'] = {
      ...nothing,
      withheld: 5,
      needsVerdict: 5,
      most: { clause: 'STANDING_RULE', effect: 'WITHHELD' },
    };
    show(<InForceCell cell={cell} notRead={false} counts={counts} now={NOW} to="/carriers/A" />);
    expect(text()).toContain('5 withheldneeds a verdict');
  });

  it('never says that all have what nobody could read', () => {
    show(<InForceCell cell={nothing} notRead={true} counts={NO_HOSTS} now={NOW} to="/carriers/A" />);
    expect(text()).toBe('?');
    cleanup();
    show(<StateCell counts={NO_HOSTS} notRead={true} to="/carriers/A" />);
    expect(text()).toBe('?');
    cleanup();
    show(<InForceCell cell={nothing} notRead={false} counts={{ ...NO_HOSTS, carries: 2 }} now={NOW} to="/carriers/A" />);
    expect(text()).toBe('all have it');
    cleanup();
    show(<InForceCell cell={nothing} notRead={false} counts={NO_HOSTS} now={NOW} to="/carriers/A" />);
    expect(text()).toBe('·');
  });
});

describe('the days that were kept', () => {
  const days = ['2026-11-08', '2026-11-09', '2026-11-12'];

  it('end with now, and a day that was not kept shows the last one before it', () => {
    const change = vi.fn();
    render(<DaySlider days={days} on="2026-11-10" now={NOW} change={change} />);
    const slider = screen.getByRole<HTMLInputElement>('slider', { name: 'As known at the end of' });
    expect(slider.value).toBe('1');
    expect(slider.getAttribute('aria-valuetext')).toBe('at the end of Mon 9 Nov');
    fireEvent.change(slider, { target: { value: '3' } });
    expect(change).toHaveBeenLastCalledWith(undefined);
    fireEvent.change(slider, { target: { value: '0' } });
    expect(change).toHaveBeenLastCalledWith('2026-11-08');
  });

  it('are named as not there yet on the first day', () => {
    render(<DaySlider days={[]} on={undefined} now={NOW} change={vi.fn()} />);
    expect(screen.getByText(/none is yet/)).toBeTruthy();
  });
});

describe('the curve of an update', () => {
  const states = (carries: number, missing: number, unknown = 0) => ({ ...NO_HOSTS, carries, missing, unknown });
  const curve: Schemas['Curve'] = {
    published: '2026-11-01',
    until: '2026-11-09',
    counted: [
      { day: '2026-11-02', populations: [{ id: 'kiosks', states: states(1, 9) }] },
      {
        day: '2026-11-05',
        populations: [
          { id: 'kiosks', states: states(4, 4, 2) },
          { id: 'desktops', states: states(0, 6) },
        ],
      },
    ],
  };

  it('leaves hosts out of which nobody knows, and sums over what is asked for', () => {
    expect(shares(curve, [])).toEqual([
      { day: '2026-11-02', carries: 1, known: 10 },
      { day: '2026-11-05', carries: 4, known: 14 },
    ]);
    expect(shares(curve, ['kiosks'])[1]).toEqual({ day: '2026-11-05', carries: 4, known: 8 });
  });
});

describe('the tallies', () => {
  const page: Schemas['Matrix'] = {
    columns: [],
    rows: [],
    matching: 2,
    updates: 2,
    content: 0,
    hosts: 10,
    unknownHosts: 0,
    tallies: [
      { rating: 'CRITICAL', updates: 1, missing: 7 },
      { rating: 'LOW', updates: 1, missing: 2 },
    ],
    choices: { kinds: [], owners: [], vendors: [] },
    keptDays: [],
  };

  it('name their unit, and narrow to their rating and back', () => {
    const set = vi.fn();
    const { rerender } = render(
      <MatrixFilters page={page} asked={{}} judges={false} set={set}>
        {null}
      </MatrixFilters>,
    );
    expect(document.body.textContent).toContain('7 critical2 lowinstalls missing, of 2 updates');
    fireEvent.click(screen.getByText('7 critical'));
    expect(set).toHaveBeenLastCalledWith({ rating: 'CRITICAL' });
    rerender(
      <MatrixFilters page={page} asked={{ rating: 'CRITICAL' }} judges={false} set={set}>
        {null}
      </MatrixFilters>,
    );
    fireEvent.click(screen.getByText('7 critical'));
    expect(set).toHaveBeenLastCalledWith({ rating: undefined });
    expect(screen.queryByLabelText('Suggestion')).toBeNull();
  });
});
