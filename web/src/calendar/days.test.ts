import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { cellsOf, DAYS, dayOfEnd, daysFrom, ELSEWHERE, holidaysOf, ruleDays, slotsOf, supportEnds } from './days';

const now = new Date('2026-11-29T09:00:00Z');

function row(kind: Schemas['InForceRow']['kind'], end: string, part: Partial<Schemas['InForceRow']> = {}): Schemas['InForceRow'] {
  return {
    kind,
    number: 7,
    update: 'LNT-1107',
    title: 'Lantern Desktop 6.0.1107',
    about: 'LNT-1107',
    populations: ['Ticket kiosks'],
    since: '2026-11-20T09:00:00Z',
    author: 'M. Aldane',
    timeZone: 'Z',
    end,
    overdue: false,
    hosts: { count: 3, names: ['ksk-1', 'ksk-2', 'ksk-3'] },
    reasons: [],
    words: '',
    // biome-ignore lint/suspicious/noThenProperty: the API calls it so
    then: [],
    ...part,
  };
}

describe('the calendar', () => {
  it('begins today and shows five weeks', () => {
    expect(daysFrom(now)[0]).toBe('2026-11-29');
    expect(daysFrom(now)).toHaveLength(DAYS);
    expect(daysFrom(now)[DAYS - 1]).toBe('2027-01-02');
  });
  it('puts an end on its last day, on the clock of its population, and what is past due on today', () => {
    expect(dayOfEnd(row('BLOCK', '2026-12-10T00:00:00Z'), now)).toBe('2026-12-09');
    expect(dayOfEnd(row('BLOCK', '2026-12-09T15:00:00Z', { timeZone: 'Asia/Tokyo' }), now)).toBe('2026-12-09');
    expect(dayOfEnd(row('FORCE', '2026-11-25T00:00:00Z', { overdue: true }), now)).toBe('2026-11-29');
  });
  it('puts what comes in parts on the day of each', () => {
    const delivery = {
      ends: ['2026-12-03T00:00:00Z', '2026-12-06T00:00:00Z', '2027-03-01T00:00:00Z'],
      allowanceDays: 0,
      outsideWindows: false,
      removes: false,
    };
    const { cells, later } = cellsOf([row('DEFER', '2027-03-01T00:00:00Z', { delivery })], ['Ticket kiosks'], now);
    const lane = cells.get('Ticket kiosks');
    expect([...(lane?.keys() ?? [])]).toEqual(['2026-12-02', '2026-12-05']);
    expect(later).toBe(1);
  });
  it('tells until when a release is supported at which a population stays', () => {
    const staysAt = [{ product: 'pkg:generic/lantern-desktop', release: '6', supportEnds: '2026-12-20' }];
    const notes = supportEnds([{ name: 'Ticket kiosks', staysAt } as unknown as Schemas['PopulationView']]);
    const cell = cellsOf([], ['Ticket kiosks'], now, notes).cells.get('Ticket kiosks')?.get('2026-12-20');
    expect(cell?.notes.map(({ words }) => words)).toEqual(['support of lantern-desktop 6 ends']);
  });
  it('knows the holidays of each lane, and those of everybody', () => {
    const view = {
      populations: [
        { id: 'kiosks', name: 'Ticket kiosks' },
        { id: 'yard', name: 'Yard servers' },
      ],
      holidays: [
        { name: 'Shore', populations: ['kiosks'], days: [{ first: '2026-12-16', last: '2026-12-17', name: 'Quay Days' }] },
        { name: 'All', populations: [], days: [{ first: '2026-12-25', last: '2026-12-25', name: 'Midwinter' }] },
        { name: 'Far', populations: [], days: [{ first: '2027-06-01', last: '2027-06-01', name: 'Harbour Day' }] },
      ],
    } as unknown as Schemas['LadderView'];
    const lanes = ['Ticket kiosks', 'Yard servers'];
    const { cells } = cellsOf([], lanes, now, [], holidaysOf(view, now));
    const named = [...lanes, ELSEWHERE].map((lane) => [...(cells.get(lane) ?? [])].map(([day, cell]) => `${day} ${cell.holiday}`));
    expect(named).toEqual([
      ['2026-12-16 Quay Days', '2026-12-17 Quay Days', '2026-12-25 Midwinter'],
      ['2026-12-25 Midwinter'],
      ['2026-12-25 Midwinter'],
    ]);
  });
  it('tells what rules will do, of hosts in no population elsewhere', () => {
    const first = [{ update: 'LNT-1107', title: 'Lantern Desktop 6.0.1107', hosts: 12 }];
    const step = { population: 'kiosks', populationName: 'Ticket kiosks', day: '2026-12-03', what: 'OFFERED', updates: 1, first } as const;
    const stray = { ...step, population: 'none', populationName: 'In no population', what: 'DUE', updates: 31 } as const;
    const { cells } = cellsOf([], ['Ticket kiosks'], now, ruleDays([step, stray], ['Ticket kiosks']));
    expect(cells.get('Ticket kiosks')?.get('2026-12-03')?.notes).toEqual([
      {
        lane: 'Ticket kiosks',
        day: '2026-12-03',
        words: '1 update is offered by the rule',
        mark: 'RULE',
        cases: first,
        updates: 1,
      },
    ]);
    expect(
      cells
        .get(ELSEWHERE)
        ?.get('2026-12-03')
        ?.notes.map(({ words }) => words),
    ).toEqual(['31 updates fall due by the rule, in no population']);
  });
  it('puts what operators have agreed on its day there, those of one stretch together, and what is past on today', () => {
    const slot = (from: string, until: string, standing: string) => ({ standing, said: { slot: { from, until } } });
    const work = {
      update: 'TRN-2236',
      population: 'Booking databases',
      zone: 'Asia/Tokyo',
      match: { clause: 'VERDICT', verdict: 'FORCE', effect: 'BY_OPERATOR' },
      hosts: [
        slot('2026-12-05T17:00:00Z', '2026-12-05T20:00:00Z', 'AGREED'),
        slot('2026-12-05T17:00:00Z', '2026-12-05T20:00:00Z', 'AGREED'),
        slot('2026-11-21T17:00:00Z', '2026-11-21T20:00:00Z', 'SLOT_PAST'),
        { standing: 'NO_SLOT' },
        { standing: 'SAID_DONE', said: {} },
      ],
    } as unknown as Schemas['OperatorWorkView'];
    const notes = slotsOf([work], now);
    expect(notes.map(({ lane, day, words }) => [lane, day, words])).toEqual([
      ['Booking databases', '2026-12-06', 'TRN-2236 by operator on 2 hosts, as agreed: Sun 6 Dec 02:00 to 05:00'],
      ['Booking databases', '2026-11-29', 'TRN-2236 by operator on 1 host, whose slot is past: Sun 22 Nov 02:00 to 05:00'],
    ]);
    expect(cellsOf([], ['Booking databases'], now, notes).cells.get('Booking databases')?.get('2026-12-06')?.notes).toHaveLength(1);
  });
  it('has a lane for each population, and one for what is for no population alone', () => {
    const { cells, later } = cellsOf(
      [
        row('BLOCK', '2026-12-10T00:00:00Z', { populations: ['Ticket kiosks', 'Crew tablets'] }),
        row('EXCEPTION', '2026-12-02T00:00:00Z', { populations: [] }),
        row('DEFER', '2027-03-01T00:00:00Z'),
      ],
      ['Ticket kiosks', 'Crew tablets'],
      now,
    );
    expect(cells.get('Ticket kiosks')?.get('2026-12-09')?.rows).toHaveLength(1);
    expect(cells.get('Crew tablets')?.get('2026-12-09')?.rows).toHaveLength(1);
    expect(cells.get(ELSEWHERE)?.get('2026-12-01')?.rows).toHaveLength(1);
    expect(later).toBe(1);
  });
  it('shows a freeze on all of its days, one of everything on every lane', () => {
    const some = row('FREEZE', '2026-12-22T06:00:00Z', { begins: '2026-12-18T18:00:00Z', update: undefined });
    const { cells } = cellsOf([some], ['Ticket kiosks', 'Crew tablets'], now);
    expect([...(cells.get('Ticket kiosks')?.keys() ?? [])].sort()).toEqual([
      '2026-12-18',
      '2026-12-19',
      '2026-12-20',
      '2026-12-21',
      '2026-12-22',
    ]);
    expect(cells.get('Crew tablets')?.size).toBe(0);
    const all = cellsOf([row('FREEZE', '2026-11-30T06:00:00Z', { populations: [] })], ['Ticket kiosks'], now).cells;
    expect(all.get('Ticket kiosks')?.get('2026-11-29')).toEqual({ rows: [], notes: [], frozen: true });
    expect(all.get(ELSEWHERE)?.get('2026-11-30')?.rows).toHaveLength(1);
  });
});
