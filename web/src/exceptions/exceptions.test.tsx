import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { HandOver } from '../access/HandOver';
import type { Schemas } from '../api/client';
import { aboutWords, asks, type ExceptionRow, earlyWords, endWords, historyLines, hostDays, thenLines } from '../words/exceptions';
import { ExceptionLines } from './ExceptionLines';
import { ProposedExceptions } from './ProposedExceptions';
import { RenewSentence } from './RenewSentence';

const NOW = new Date('2026-11-30T04:00:00Z');

const row = (part: Partial<ExceptionRow> = {}): ExceptionRow => ({
  number: 3,
  state: 'ENDING',
  about: 'LNT-7000',
  update: 'LNT-7000',
  title: 'Lantern Desktop 7',
  where: 'name in (bri-auk-1, ksk-171)',
  effect: 'WITHHELD',
  since: '2026-10-01T08:00:00Z',
  until: '2026-12-07T00:00:00Z',
  end: '2026-12-07T00:00:00Z',
  timeZone: 'Z',
  renewals: 0,
  renewedOften: false,
  history: [
    {
      number: 3,
      createdAt: '2026-10-01T08:00:00Z',
      until: '2026-12-07T00:00:00Z',
      reason: 'not certified',
      author: 'M. Aldane',
      owner: 'T. Brevik',
      takenBack: false,
    },
  ],
  reason: 'not certified',
  owner: 'T. Brevik',
  ownerLeft: false,
  measure: '',
  author: 'M. Aldane',
  named: { count: 2, names: ['bri-auk-1', 'ksk-171'] },
  hosts: { count: 2, names: ['bri-auk-1', 'ksk-171'] },
  exposure: 18.2,
  hostDaysSoFar: 84,
  hostDaysToCome: 13.7,
  updates: [
    {
      update: 'LNT-7000',
      title: 'Lantern Desktop 7',
      hosts: { count: 2, names: ['bri-auk-1', 'ksk-171'] },
      exposure: 18.2,
      after: [
        { match: { clause: 'STANDING_RULE', effect: 'WITHHELD' }, hosts: { count: 1, names: ['bri-auk-1'] } },
        { match: { clause: 'STANDING_RULE', effect: 'OFFERED' }, hosts: { count: 1, names: ['ksk-171'] } },
      ],
    },
  ],
  moreUpdates: 0,
  exploitedSince: [],
  mostlyExcepted: [],
  overriding: [],
  renewalGrounds: [],
  ...part,
});

describe('an exception in words', () => {
  it.each([
    [{}, 'in 6 days'],
    [{ state: 'LAPSED', ended: '2026-11-27T00:00:00Z' }, 'lapsed 3 days ago'],
    [{ state: 'LAPSED', ended: '2026-11-27T00:00:00Z', end: '2026-11-27T00:00:00Z' }, 'ended early, 3 days ago'],
    [{ state: 'CLOSED', ended: '2026-11-27T00:00:00Z' }, 'taken back 3 days ago'],
  ] as [Partial<ExceptionRow>, string][])('says how near its end is: %j', (part, words) => {
    expect(endWords(row(part), NOW)).toBe(words);
  });

  it('says what its end brings, for each update and answer', () => {
    expect(thenLines(row(), NOW)).toEqual(['1 host: needs a verdict, the rule never offers it', '1 host: offered by the standing rule']);
    expect(thenLines(row({ update: undefined }), NOW)[0]).toContain('LNT-7000, 1 host');
    expect(thenLines(row({ updates: [] }), NOW)).toEqual(['nothing: none of its hosts lacks it now']);
    expect(thenLines(row({ state: 'CLOSED' }), NOW)).toEqual(['what else holds']);
  });

  it('says what it is about', () => {
    expect(aboutWords(row())).toBe('Lantern Desktop 7');
    expect(aboutWords(row({ update: undefined, about: 'kind driver' }))).toBe('every update of kind driver');
    expect(aboutWords(row({ update: undefined, about: 'pkg:deb/fathom/libtls' }))).toBe('every update of libtls');
  });

  it('names what asks somebody to do something', () => {
    expect(asks(row(), NOW)).toEqual([]);
    expect(
      asks(
        row({ exploitedSince: ['CVE-2026-9000001'], ownerLeft: true, renewals: 3, renewedOften: true, mostlyExcepted: ['Kiosks'] }),
        NOW,
      ),
    ).toEqual([
      'CVE-2026-9000001 known to be exploited since it was made',
      'its owner, T. Brevik, has left',
      'renewed 3 times: is it still an exception?',
      'more than half of Kiosks is excepted from it',
    ]);
    expect(asks(row({ hosts: { count: 0, names: [] } }), NOW)).toEqual(['it does nothing any more: it can be ended']);
    const overriding = [{ number: 7, update: 'LNT-7000', author: 'H. Marsh', end: '2026-12-05T00:00:00Z' }];
    expect(asks(row({ hosts: { count: 0, names: [] }, overriding }), NOW)).toEqual([
      'force no. 7 on LNT-7000 by H. Marsh goes over it, due Fri 4 Dec',
    ]);
  });

  it('tells how it went on, and what ends it early', () => {
    expect(historyLines(row(), NOW)).toEqual(['Thu 1 Oct, M. Aldane: until Sun 6 Dec, because not certified']);
    expect(earlyWords(row({ endsWhen: { type: 'SUCCESSOR', issue: '' } }))).toBe('or when a successor is released');
    expect(earlyWords(row({ endsWhen: { type: 'ISSUE_FIXED', issue: 'KI-1' } }))).toContain('KI-1 is fixed');
  });

  it.each([
    [0, 'none'],
    [0.4, 'less than one'],
    [3.46, '3.5'],
    [1204.2, '1,204'],
  ])('counts host-days as people do: %d', (days, words) => {
    expect(hostDays(days)).toBe(words);
  });
});

describe('on screen', () => {
  const sent: { path: string; body: string }[] = [];
  let answers: Record<string, unknown> = {};
  beforeEach(() => {
    sent.length = 0;
    answers = { '/api/exceptions/renewals': { exceptions: [9, 10], undo: '/api/decisions?renewal=9,10' } };
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
    Element.prototype.scrollIntoView = () => undefined;
    vi.stubGlobal('fetch', async (input: Request) => {
      const { pathname } = new URL(input.url);
      sent.push({ path: pathname, body: await input.text() });
      return new Response(JSON.stringify(answers[pathname] ?? {}), {
        status: input.method === 'GET' ? 200 : 201,
        headers: { 'Content-Type': 'application/json' },
      });
    });
  });
  afterEach(() => {
    cleanup();
    vi.unstubAllGlobals();
  });
  const show = (node: React.ReactNode) =>
    render(
      <QueryClientProvider client={new QueryClient()}>
        <App>
          <MemoryRouter>{node}</MemoryRouter>
        </App>
      </QueryClientProvider>,
    );

  it('a line says what it costs, and only who decides can renew it', () => {
    const line = (decides: boolean) => (
      <table>
        <tbody>
          <ExceptionLines
            row={row()}
            weights={[8, 4, 2, 1]}
            now={NOW}
            current
            chosen={false}
            decides={decides}
            point={() => undefined}
            choose={() => undefined}
            renew={() => undefined}
            handOver={() => undefined}
          />
        </tbody>
      </table>
    );
    const { rerender } = show(line(true));
    expect(document.body.textContent).toContain('waiting costs 18.2');
    expect(document.body.textContent).toContain('84 host-days so far, 14 to come');
    expect(screen.getByTitle('as bad as losing 2 tier-1 hosts')).toBeTruthy();
    expect(screen.getByRole('button', { name: /Renew/ })).toBeTruthy();
    rerender(
      <QueryClientProvider client={new QueryClient()}>
        <App>
          <MemoryRouter>{line(false)}</MemoryRouter>
        </App>
      </QueryClientProvider>,
    );
    expect(screen.queryByRole('button', { name: /Renew/ })).toBeNull();
  });

  it('several are renewed with one reason, which must be given', async () => {
    const close = vi.fn();
    show(<RenewSentence rows={[row(), row({ number: 4, renewals: 1 })]} now={NOW} close={close} />);
    const button = screen.getByRole('button', { name: 'Renew 2 exceptions' }) as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    expect(document.body.textContent).toContain('1 of them was renewed before');
    fireEvent.change(screen.getByLabelText('Why they go on'), { target: { value: 'still not certified' } });
    fireEvent.keyDown(screen.getByLabelText('Why they go on'), { key: 'Enter', ctrlKey: true });
    await waitFor(() => expect(close).toHaveBeenCalled(), { timeout: 60_000 });
    expect(JSON.parse(sent[0]?.body ?? '')).toEqual({ exceptions: [3, 4], until: '2027-01-03', reason: 'still not certified' });
  });

  it('an exception that waits is approved or sent back by an approver, and withdrawn or worded anew by an analyst', async () => {
    const proposed: Schemas['ProposedException'] = {
      number: 7,
      update: 'LNT-7000',
      about: 'kind driver',
      where: 'name = ksk-171',
      effect: 'WITHHELD',
      until: '2026-12-20',
      reason: 'not certified',
      owner: 'T. Brevik',
      measure: '',
      grounds: [{ type: 'EXCEPTS', tier: 1 }],
      hosts: 1,
      author: 'M. Aldane',
      createdAt: '2026-11-29T08:00:00Z',
      lapsesAt: '2026-12-06T08:00:00Z',
      state: 'WAITING',
      undo: '/api/decisions?proposal=7',
    };
    answers['/api/exceptions/proposals'] = [proposed];
    answers['/api/exceptions/renewals/proposals'] = [];
    answers['/api/exceptions/proposals/7/approvals'] = { number: 9, undo: '/api/decisions?exception=9' };
    answers['/api/exceptions/proposals/7/preview'] = {
      consequence: {
        named: 2,
        carrying: { count: 1, names: ['ksk-170'] },
        notApplicable: 0,
        decided: { count: 1, names: ['ksk-171'] },
        before: [{ match: { clause: 'STANDING_RULE', effect: 'OFFERED' }, hosts: { count: 1, names: ['ksk-171'] } }],
        claimed: [],
        unknown: { count: 0, names: [] },
        otherSupply: { count: 0, names: [] },
      },
      grounds: proposed.grounds,
    } satisfies Schemas['ExceptionConsequence'];
    answers['/api/sessions/current'] = { role: 'APPROVER' };
    show(<ProposedExceptions now={NOW} />);
    await screen.findByRole('button', { name: 'Approve for 2 hosts' }, { timeout: 60_000 });
    expect(document.body.textContent).toContain('2 hosts named; 1 host of them lacks LNT-7000 and would be under this exception');
    expect(document.body.textContent).toContain('so it is again when the exception has lapsed');
    expect(document.body.textContent).toContain('because it excepts hosts of tier 1. Until then it holds nothing');
    expect(document.body.textContent).toContain('every update of kind driver where name = ksk-171');
    expect(screen.queryByText('Withdraw')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Approve for 2 hosts' }));
    await waitFor(() => expect(sent.map((one) => one.path)).toContain('/api/exceptions/proposals/7/approvals'), { timeout: 60_000 });
    cleanup();
    answers['/api/sessions/current'] = { role: 'ANALYST' };
    answers['/api/exceptions/proposals'] = [{ ...proposed, state: 'SENT_BACK', decidedBy: 'H. Marsh', returned: 'ask first' }];
    show(<ProposedExceptions now={NOW} />);
    const link = await screen.findByRole('link', { name: 'Word it anew' }, { timeout: 60_000 });
    expect(link.getAttribute('href')).toContain('/cases/LNT-7000?except=yes&where=name+%3D+ksk-171');
    expect(link.getAttribute('href')).toContain('about=KIND');
    expect(document.body.textContent).toContain('H. Marsh: ask first');
  });

  it('a renewal is proposed where its hosts need an approver, and approved', async () => {
    const close = vi.fn();
    answers['/api/exceptions/renewals/proposals'] = { number: 8, lapsesAt: '2026-12-06T08:00:00Z', undo: '/api/decisions?proposal=8' };
    show(<RenewSentence rows={[row({ renewalGrounds: [{ type: 'EXCEPTS', tier: 1 }] })]} now={NOW} close={close} />);
    expect(document.body.textContent).toContain('Needs an approver, because it excepts hosts of tier 1');
    fireEvent.change(screen.getByLabelText('Why they go on'), { target: { value: 'still not certified' } });
    fireEvent.click(screen.getByRole('button', { name: 'Propose: renew 1 exception' }));
    await waitFor(() => expect(close).toHaveBeenCalled(), { timeout: 60_000 });
    expect(sent.map((one) => one.path)).toEqual(['/api/exceptions/renewals/proposals']);
    cleanup();
    const proposed: Schemas['ProposedRenewal'] = {
      number: 8,
      exceptions: [{ number: 3, about: 'LNT-7000', where: 'name = bri-auk-1', owner: 'T. Brevik' }],
      until: '2026-12-20',
      reason: 'still not certified',
      grounds: [{ type: 'EXCEPTS', tier: 1 }],
      hosts: 1,
      author: 'M. Aldane',
      createdAt: '2026-11-29T08:00:00Z',
      lapsesAt: '2026-12-06T08:00:00Z',
      state: 'WAITING',
      undo: '/api/decisions?proposal=8',
    };
    answers['/api/exceptions/proposals'] = [];
    answers['/api/exceptions/renewals/proposals'] = [proposed];
    answers['/api/exceptions/renewals/proposals/8/approvals'] = { exceptions: [9], undo: '/api/decisions?renewal=9' };
    answers['/api/sessions/current'] = { role: 'APPROVER' };
    show(<ProposedExceptions now={NOW} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Let 1 exception go on' }, { timeout: 60_000 }));
    expect(document.body.textContent).toContain('Renew no. 3, LNT-7000 where name = bri-auk-1 (T. Brevik) until');
    await waitFor(() => expect(sent.map((one) => one.path)).toContain('/api/exceptions/renewals/proposals/8/approvals'), {
      timeout: 60_000,
    });
  });

  it('all that somebody answers for is handed over to somebody else', async () => {
    answers['/api/responsibilities'] = {
      person: 'T. Brevik',
      held: [{ words: 'Exception no. 3 on LNT-7000', path: '/exceptions?at=3' }],
      populations: ['Yard servers'],
    };
    answers['/api/people'] = [
      { name: 'H. Marsh', role: 'APPROVER' },
      { name: 'T. Brevik', role: 'READER' },
    ];
    answers['/api/responsibilities/hand-overs'] = { handedOver: 1, undo: '/api/decisions?renewal=9' };
    const close = vi.fn();
    show(<HandOver person="T. Brevik" close={close} />);
    const button = (await screen.findByRole('button', { name: 'Hand over 1 thing' }, { timeout: 60_000 })) as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    expect(document.body.textContent).toContain('T. Brevik owns Yard servers');
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Who takes over' }));
    fireEvent.click(await screen.findByText('H. Marsh, approver', {}, { timeout: 60_000 }));
    fireEvent.click(button);
    await waitFor(() => expect(close).toHaveBeenCalled(), { timeout: 60_000 });
    expect(JSON.parse(sent.find((one) => one.path === '/api/responsibilities/hand-overs')?.body ?? '')).toEqual({
      from: 'T. Brevik',
      to: 'H. Marsh',
    });
  });
});
