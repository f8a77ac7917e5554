import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApprovalRules } from '../access/ApprovalRules';
import type { Schemas } from '../api/client';
import CarrierChanges from './CarrierChanges';
import { PastInForce } from './PastInForce';

const none = { gained: 0, lost: 0, joined: 0 };

const changes: Schemas['Changes'] = {
  from: '2026-11-20',
  to: '2026-11-27',
  days: ['2026-11-19', '2026-11-20', '2026-11-27'],
  columns: [
    { id: 'kiosks', name: 'Ticket kiosks', hosts: 20 },
    { id: 'desktops', name: 'Office desktops', hosts: 30 },
  ],
  rows: [
    {
      id: 'LNT-1107',
      title: 'Lantern Desktop 6.0.1107',
      rating: 'HIGH',
      exploited: true,
      readSince: true,
      all: { gained: 12, lost: 1, joined: 2 },
      cells: [{ gained: 12, lost: 1, joined: 2 }, none],
      left: 3,
    },
  ],
  matching: 1,
  joined: 4,
  left: 2,
};

const stood: Schemas['StoodRow'] = {
  kind: 'BLOCK',
  number: 3,
  update: 'LNT-7000',
  title: 'Lantern Desktop 7',
  about: 'LNT-7000',
  populations: ['Ticket kiosks'],
  since: '2026-10-04T08:00:00Z',
  author: 'M. Aldane',
  timeZone: 'Z',
  end: '2026-11-25T00:00:00Z',
  reasons: ['COMPATIBILITY'],
  words: '',
  became: 'ENDED',
  becameAt: '2026-11-25T00:00:00Z',
};

describe('days that have passed', () => {
  let answers: Record<string, unknown> = {};
  const sent: { path: string; search: string; body: string }[] = [];
  beforeEach(() => {
    sent.length = 0;
    answers = {
      '/api/carriers/changes': changes,
      '/api/in-force/past': { at: '2026-11-21T00:00:00Z', keptDay: '2026-11-20', rows: [stood], people: ['M. Aldane'] },
      '/api/sessions/current': { role: 'ANALYST' },
      '/api/populations': { populations: [] },
      '/api/approval-rules': { forces: [1], disturbs: [1], excepts: [] },
    };
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
    vi.stubGlobal('fetch', async (request: Request) => {
      const { pathname, search } = new URL(request.url);
      sent.push({ path: pathname, search, body: request.method === 'GET' ? '' : await request.text() });
      return new Response(JSON.stringify(answers[pathname] ?? {}), { status: 200, headers: { 'Content-Type': 'application/json' } });
    });
  });
  afterEach(() => {
    cleanup();
    vi.unstubAllGlobals();
  });

  let address = '';
  const Address = () => {
    const { search } = useLocation();
    address = search;
    return null;
  };
  const show = (node: React.ReactNode, path = '/') =>
    render(
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <App>
          <MemoryRouter initialEntries={[path]}>
            {node}
            <Address />
          </MemoryRouter>
        </App>
      </QueryClientProvider>,
    );
  const text = () => document.body.textContent?.replace(/\s+/g, ' ') ?? '';

  it('says for each update and population who has got or lost it', async () => {
    show(<CarrierChanges />, '/?face=changes');
    const cell = await screen.findByRole(
      'link',
      { name: '12 hosts have got it, 1 host has it no more, 2 hosts came with it' },
      { timeout: 60_000 },
    );
    expect(cell.textContent).toBe('+12 −1 2 new');
    expect(cell.getAttribute('href')).toBe('/carriers/LNT-1107?on=2026-11-27&since=2026-11-20&population=kiosks');
    expect(text()).toContain('LNT-1107 · High · known exploited · first read in between · 3 hosts with it left');
    expect(text()).toContain('4 hosts came to the fleet, 2 left it');
    fireEvent.keyDown(document.body, { key: '[' });
    await waitFor(() => expect(address).toContain('from=2026-11-19'), { timeout: 60_000 });
    expect(sent.some((one) => one.search.includes('from=2026-11-19'))).toBe(true);
  });

  it('says why there is nothing to compare yet', async () => {
    answers['/api/carriers/changes'] = { days: ['2026-11-20'], columns: [], rows: [], matching: 0, joined: 0 };
    show(<CarrierChanges />);
    await screen.findByText('There are no two days to compare yet.', {}, { timeout: 60_000 });
  });

  it('tells what was in force on a past day, and what became of it', async () => {
    show(<PastInForce />, '/?on=2026-11-20');
    await screen.findByRole('table', { name: 'Decisions in force then' }, { timeout: 60_000 });
    expect(text()).toContain('blocked for Ticket kiosks');
    expect(text()).toContain('ended Tue 24 Nov');
    expect(text()).toContain('stand here if hosts lacked the update then, or nobody knew');
    fireEvent.keyDown(document.body, { key: '[' });
    await waitFor(() => expect(address).toContain('on=2026-11-19'), { timeout: 60_000 });
    fireEvent.keyDown(document.body, { key: 'Escape' });
    await waitFor(() => expect(address).not.toContain('on='), { timeout: 60_000 });
  });

  it.each([
    [{ became: 'TAKEN_BACK', becameAt: '2026-11-22T09:00:00Z' }, 'taken back Sun 22 Nov'],
    [{ became: 'WENT_ON', becameAt: '2026-11-22T09:00:00Z', kind: 'EXCEPTION' }, 'renewed or handed over Sun 22 Nov'],
    [{ became: 'STILL_STANDS', becameAt: undefined, kind: 'FORCE' }, 'stands until every host has it'],
  ] as [Partial<Schemas['StoodRow']>, string][])('in words: %j', async (part, words) => {
    answers['/api/in-force/past'] = { at: '2026-11-21T00:00:00Z', rows: [{ ...stood, ...part }], people: [] };
    show(<PastInForce />, '/?on=2026-11-20');
    await screen.findByText(words, {}, { timeout: 60_000 });
    expect(text()).toContain('No day until then was kept');
  });

  it('which tiers ask for an approver is turned on and off, one at a time', async () => {
    show(<ApprovalRules />);
    const box = await screen.findByRole('checkbox', { name: 'Excepting hosts, tier 2' }, { timeout: 60_000 });
    fireEvent.click(box);
    await waitFor(() => expect(sent.some((one) => one.body !== '')).toBe(true), { timeout: 60_000 });
    expect(JSON.parse(sent.find((one) => one.body !== '')?.body ?? '')).toEqual({ forces: [1], disturbs: [1], excepts: [2] });
  });
});
