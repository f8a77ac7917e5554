import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { WaitsForApproval } from '../docket/WaitsForApproval';
import { LastActProvider } from '../frame/lastAct';
import { caseView, NOW, worded } from './fixtures';
import { Proposals } from './Proposals';

const answer: Schemas['AnswerDraft'] = {
  type: 'FORCE',
  populations: ['kiosks'],
  until: '2026-12-01',
  overrides: [],
  overriddenExceptions: [],
  overriddenFreezes: [],
};

const waiting: Schemas['ProposalView'] = {
  number: 3,
  update: 'LNT-1107',
  title: 'Lantern Desktop 6.0.1107',
  draft: { update: 'LNT-1107', revision: '1', reasons: ['EXPLOITED'], words: '', replaces: [], also: [], ...answer },
  answers: [{ draft: answer, populations: ['Ticket kiosks'] }],
  grounds: [{ type: 'FORCES', tier: 1 }],
  hosts: 5,
  author: 'M. Aldane',
  createdAt: '2026-11-23T05:00:00Z',
  lapsesAt: '2026-12-02T00:00:00Z',
  state: 'WAITING',
  undo: '/api/decisions?proposal=3',
};

const text = () => document.body.textContent?.replace(/\s+/g, ' ') ?? '';

describe('a proposal', () => {
  const sent: { path: string; body: unknown; headers: Headers }[] = [];
  let proposals = [waiting];
  let role: Schemas['Session']['role'] = 'APPROVER';

  beforeEach(() => {
    sent.length = 0;
    proposals = [waiting];
    role = 'APPROVER';
    vi.stubGlobal('matchMedia', () => ({ matches: false, addListener: () => {}, removeListener: () => {} }));
    vi.stubGlobal('fetch', async (request: Request) => {
      const path = new URL(request.url).pathname;
      const body = request.method === 'GET' ? undefined : await request.json().catch(() => undefined);
      sent.push({ path, body, headers: request.headers });
      const data: Record<string, unknown> = {
        '/api/proposals': proposals,
        '/api/exceptions/proposals': [],
        '/api/exceptions/renewals/proposals': [],
        '/api/sessions/current': { name: 'h.marsh', displayName: 'H. Marsh', role },
        '/api/verdicts/preview': [worded()],
        '/api/proposals/3/approvals': { verdicts: [], undo: '/api/decisions?verdict=9' },
      };
      return path.endsWith('/returns')
        ? new Response(null, { status: 204 })
        : new Response(JSON.stringify(data[path] ?? {}), { status: 200, headers: { 'Content-Type': 'application/json' } });
    });
  });

  afterEach(() => {
    cleanup();
    vi.unstubAllGlobals();
  });

  const set = vi.fn();

  function show() {
    render(
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <MemoryRouter>
          <AntApp>
            <LastActProvider person="m.aldane">
              <WaitsForApproval now={NOW} />
              <Proposals page={caseView({ version: '"v7"' })} search={new URLSearchParams()} set={set} stop={() => {}} now={NOW} />
            </LastActProvider>
          </AntApp>
        </MemoryRouter>
      </QueryClientProvider>,
    );
  }

  it('is shown to an approver with what it would do now, and approved on the case that was seen', async () => {
    show();
    const approve = await screen.findByText('Approve for 5 hosts');
    expect(text()).toContain('Waits for your word: Lantern Desktop 6.0.1107 Force for Ticket kiosks due Tue 1 Dec');
    expect(text()).toContain('needs an approver, because it forces hosts of tier 1. Until then it holds nothing.');
    expect(text()).toContain('because exploited.');
    fireEvent.click(approve);
    await waitFor(() => expect(sent.some((one) => one.path === '/api/proposals/3/approvals')).toBe(true));
    expect(sent.find((one) => one.path === '/api/proposals/3/approvals')?.headers.get('If-Match')).toBe('"v7"');
  });

  it('is sent back only with a word', async () => {
    show();
    const back = (await screen.findByText('Send back')).closest('button') as HTMLButtonElement;
    expect(back.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Why it is sent back'), { target: { value: 'not before the holidays' } });
    fireEvent.click(back);
    await waitFor(() =>
      expect(sent.find((one) => one.path === '/api/proposals/3/returns')?.body).toEqual({ words: 'not before the holidays' }),
    );
  });

  it('that was sent back tells its author why, and is worded anew', async () => {
    role = 'ANALYST';
    proposals = [{ ...waiting, state: 'SENT_BACK', decidedBy: 'H. Marsh', returned: 'not before the holidays' }];
    show();
    expect(await screen.findByText('Word it anew')).toBeTruthy();
    expect(text()).toContain('H. Marsh: not before the holidays');
    expect(screen.queryByText('Withdraw')).toBeNull();
    fireEvent.click(screen.getByText('Word it anew'));
    expect(set).toHaveBeenCalledWith(
      expect.objectContaining({ verdict: 'FORCE', for: 'kiosks', until: '2026-12-01', because: 'EXPLOITED' }),
    );
  });

  it('that lapsed says that nothing came of it', async () => {
    role = 'ANALYST';
    proposals = [{ ...waiting, state: 'LAPSED', lapsesAt: '2026-11-23T23:00:00Z' }];
    show();
    expect(await screen.findByText('Word it anew')).toBeTruthy();
    expect(text()).toContain('nobody approved it, and nothing came of it');
  });
});
