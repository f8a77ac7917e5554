import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { OrdersHeard } from '../hosts/OrdersHeard';
import { Heard } from './Heard';

const NOW = new Date('2026-11-24T05:00:00Z');

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function answering(body: unknown) {
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(body), { status: 200, headers: { 'Content-Type': 'application/json' } }));
}

function show(what: React.ReactNode) {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <AntApp>{what}</AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const block: Schemas['HeardDecision'] = {
  match: { clause: 'VERDICT', effect: 'WITHHELD', source: 12, verdict: 'BLOCK', end: '2026-12-08T00:00:00Z' },
  decidedAt: '2026-11-23T05:00:00Z',
  hosts: 5,
  heard: [
    { hearing: 'NEVER_ASKED', hosts: { count: 1, names: ['old-1'] }, problems: [] },
    { hearing: 'IN_FORCE', hosts: { count: 3, names: ['k1', 'k2', 'k3'] }, problems: [] },
    { hearing: 'NOT_OBEYED', hosts: { count: 1, names: ['k4'] }, problems: ['a setting of this host wins'] },
  ],
  tooLate: { count: 1, names: ['k2'] },
  overdue: [],
  installedSince: { count: 0, names: [] },
};

describe('what is heard of a decision', () => {
  it('counts as in force only where hosts say so, and names the others with why', async () => {
    answering([block]);
    show(<Heard id="LNT-1107" now={NOW} />);
    const section = await screen.findByRole('region', { name: 'Heard by' });
    expect(section.textContent).toContain('In force on 3 of 5 hosts: blocked until');
    expect(section.textContent).toMatch(
      /3 in force, as these hosts say.*1 heard, and not in force k4a setting of this host wins.*1 never asked for orders old-1/,
    );
  });

  it('names for whom it came too late, and who installed it all the same', async () => {
    answering([
      block,
      { ...block, match: { ...block.match, source: 13 }, hosts: 0, heard: [], installedSince: { count: 2, names: ['d1', 'd2'] } },
    ]);
    show(<Heard id="LNT-1107" now={NOW} />);
    const section = await screen.findByRole('region', { name: 'Heard by' });
    expect(section.textContent).toContain('Too late to stop: 1 host has downloaded it and may install it all the same k2');
    expect(section.textContent).toContain('Installed all the same, after it was decided: 2 hosts d1');
    expect(section.textContent).not.toContain('of 0 hosts');
  });

  it('says why hosts still lack what was due', async () => {
    answering([
      {
        ...block,
        match: { clause: 'VERDICT', effect: 'OFFERED', source: 14, verdict: 'FORCE', end: '2026-11-23T12:00:00Z' },
        tooLate: { count: 0, names: [] },
        overdue: [
          { why: 'PAID_LINE', hosts: { count: 1, names: ['t9'] } },
          { why: 'NO_WINDOW', hosts: { count: 2, names: ['d1', 'd2'] } },
        ],
        nextWindow: '2026-11-29T02:00:00Z',
      },
    ]);
    show(<Heard id="LNT-1107" now={NOW} />);
    const section = await screen.findByRole('region', { name: 'Heard by' });
    expect(section.textContent).toContain('Overdue on 3 hosts1 on a line that is paid by what goes over it, as last told t9');
    expect(section.textContent).toContain('2 without a window since; the next opens Sun 29 Nov 02:00 d1, d2');
  });

  it('is not there where nobody decided anything', async () => {
    answering([]);
    show(<Heard id="LNT-1107" now={NOW} />);
    await vi.waitFor(() => expect(screen.queryByRole('region')).toBeNull());
  });
});

describe('the orders of a host', () => {
  it('are not said to be in force where the host never asked', async () => {
    answering({ installs: false, reporter: '', problems: [] } satisfies Schemas['HeardByHost']);
    show(<OrdersHeard name="old-1" now={NOW} />);
    expect((await screen.findByRole('region', { name: 'Orders' })).textContent).toContain('not known to be so on the host');
  });

  it('are told with what the host says stands in their way', async () => {
    answering({
      askedAt: '2026-11-24T04:00:00Z',
      currentAt: '2026-11-24T03:00:00Z',
      receivedAt: '2026-11-24T03:00:00Z',
      serial: 5,
      became: 'NOT_IN_FORCE',
      installs: true,
      reporter: '1.0',
      problems: ['a setting of this host wins'],
    } satisfies Schemas['HeardByHost']);
    show(<OrdersHeard name="k4" now={NOW} />);
    const section = (await screen.findByRole('region', { name: 'Orders' })).textContent;
    expect(section).toContain('not all of it is in force');
    expect(section).toContain('a setting of this host wins');
    expect(section).toContain('what is due, by itself');
  });
});
