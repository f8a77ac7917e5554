import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { HostWork, OperatorWork } from '../words/operators';
import { hostsDone, hostsForSlot, Work } from './Work';

const now = new Date('2026-12-10T09:00:00Z');

function host(name: string, standing: HostWork['standing'], other: Partial<HostWork> = {}): HostWork {
  return { host: name, standing, late: false, lastReport: '2026-12-10T08:00:00Z', ...other };
}

function work(...hosts: HostWork[]): OperatorWork {
  return {
    update: 'TRN-1',
    title: 'Tarn kernel',
    rating: 'HIGH',
    revision: '1',
    restart: 'HOST',
    populationId: 'dbs',
    population: 'Databases',
    owner: 'D. Orrin',
    zone: 'Z',
    match: { clause: 'VERDICT', effect: 'BY_OPERATOR', source: 7, verdict: 'FORCE' },
    told: { checklist: ['close the till'], order: ['db-2'] },
    words: 'exploited',
    author: 'M. Aldane',
    allowed: [{ from: '2026-12-13T02:00:00Z', until: '2026-12-13T05:00:00Z' }],
    hosts,
    concerned: hosts.length + 1,
  };
}

function shown(one: OperatorWork, parts: { chosen?: string[]; mayAct?: boolean; done?: (hosts: string[]) => void } = {}) {
  return render(
    <QueryClientProvider client={new QueryClient()}>
      <App>
        <MemoryRouter>
          <Work
            work={one}
            now={now}
            current={one.hosts[0]?.host}
            point={() => undefined}
            chosen={parts.chosen ?? []}
            choose={() => undefined}
            mayAct={parts.mayAct ?? true}
            address="/carriers/TRN-1"
            wording={false}
            word={() => undefined}
            done={parts.done ?? (() => undefined)}
          />
        </MemoryRouter>
      </App>
    </QueryClientProvider>,
  );
}

afterEach(cleanup);

describe('what an operator is to do', () => {
  it('is told with its steps, its order and the day until which it is asked for', () => {
    const { container } = shown(work(host('db-2', 'NO_SLOT', { due: '2026-12-15T00:00:00Z' }), host('db-1', 'NO_SLOT')));
    const text = container.textContent ?? '';
    expect(text).toContain('close the till');
    expect(text).toContain('asked for until Mon 14 Dec');
    expect(text).toContain('To do on 2 of 3 hosts that it speaks of: 2 without a slot');
    expect(screen.getAllByRole('row')[1]?.textContent).toContain('db-2 no. 1');
  });

  it('is acted on for the hosts that need it, never for many by one key', () => {
    const one = work(host('db-2', 'AGREED'), host('db-1', 'NO_SLOT'), host('db-3', 'STILL_LACKS'));
    expect(hostsForSlot(one, [])).toEqual(['db-1', 'db-3']);
    expect(hostsForSlot(one, ['db-2'])).toEqual(['db-2']);
    expect(hostsForSlot(work(host('db-2', 'AGREED')), [])).toEqual(['db-2']);
    expect(hostsDone(one, [], 'db-1')).toEqual(['db-1']);
    expect(hostsDone(one, ['db-3', 'db-2', 'of-another-work'], 'db-1')).toEqual(['db-2', 'db-3']);
    const done = vi.fn();
    shown(one, { done });
    fireEvent.click(screen.getByRole('button', { name: 'Done on db-2' }));
    expect(done).toHaveBeenCalledWith(['db-2']);
  });

  it('is only looked at by whoever has no say', () => {
    shown(work(host('db-2', 'NO_SLOT')), { mayAct: false });
    expect(screen.queryByRole('button', { name: /slot|Done|Take back/ })).toBeNull();
    expect(screen.queryByRole('checkbox')).toBeNull();
  });
});
