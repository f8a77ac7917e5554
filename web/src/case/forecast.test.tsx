import { cleanup, render } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { Forecast } from './Forecast';

afterEach(cleanup);

const hosts = (...names: string[]) => ({ count: names.length, names });
const nothing: Schemas['ForecastView'] = {
  inBusyHours: hosts(),
  late: hosts(),
  dueLater: hosts(),
  silent: hosts(),
  byOthers: hosts(),
  notForeseen: hosts(),
  curve: [],
  earliest: [],
};
const now = new Date('2026-11-29T07:30:00Z');

function text(forecast: Schemas['ForecastView'], of: number, due?: string): string {
  render(
    <MemoryRouter>
      <AntApp>
        <Forecast forecast={forecast} hosts={of} due={due} restart="HOST" now={now} zone="Z" prevented={false} />
      </AntApp>
    </MemoryRouter>,
  );
  return document.body.textContent?.replace(/\s+/g, ' ') ?? '';
}

describe('a forecast', () => {
  it('says by when how many have it, and names those that stand out', () => {
    const said = text(
      {
        ...nothing,
        inBusyHours: hosts('ksk-1', 'ksk-2'),
        silent: hosts('tab-1'),
        curve: [
          { at: '2026-11-29T07:30:00Z', hosts: 0 },
          { at: '2026-11-30T07:30:00Z', hosts: 3 },
          { at: '2026-12-02T12:00:00Z', hosts: 5 },
        ],
      },
      6,
      '2026-12-02T12:00:00Z',
    );
    expect(said).toContain('Foreseen: 5 of 6 installed and restarted by Wed 2 Dec 12:00');
    expect(said).toContain('2 hosts would restart in busy hours, because it is due ksk-1, ksk-2');
    expect(said).toContain('1 host silent: nobody knows when they come back; due as they return tab-1');
    expect(said).not.toContain('late');
  });
  it('says how much earlier it may come where persons begin, and draws that as a band', () => {
    const curve = [
      { at: '2026-11-29T07:30:00Z', hosts: 0 },
      { at: '2026-11-30T07:30:00Z', hosts: 0 },
      { at: '2026-12-02T12:00:00Z', hosts: 6 },
    ];
    const earliest = [
      { at: '2026-11-29T07:30:00Z', hosts: 0 },
      { at: '2026-11-30T06:00:00Z', hosts: 6 },
    ];
    expect(text({ ...nothing, curve, earliest }, 6)).toContain('Persons may begin before: up to 6 by Mon 30 Nov 06:00');
    expect(document.querySelectorAll('svg path')).toHaveLength(3);
    cleanup();
    expect(text({ ...nothing, curve }, 6)).not.toContain('Persons');
    expect(document.querySelectorAll('svg path')).toHaveLength(2);
  });
  it('tells the hour in which most download it', () => {
    const peak = { site: 'Quay', hour: '2026-11-30T07:00:00Z', hosts: 35, bytes: 23_800_000_000 };
    expect(text({ ...nothing, peak }, 40)).toContain(
      'Most at once: 35 hosts of Quay download it in the hour from Mon 30 Nov 07:00, 23.8 GB',
    );
  });
  it('claims nothing where nothing is foreseen', () => {
    expect(text({ ...nothing, byOthers: hosts('db-1') }, 1)).not.toContain('Foreseen');
  });
});
