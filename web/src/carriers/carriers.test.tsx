import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { DifferenceSince } from './DifferenceSince';
import { PastHosts } from './PastHosts';
import { useDifference, usePastHosts } from './usePast';

const NOW = new Date('2026-11-30T04:00:00Z');
let answer: { status: number; body: unknown };
const asked: string[] = [];

beforeEach(() => {
  asked.length = 0;
  vi.stubGlobal('fetch', async (input: Request) => {
    asked.push(input.url.replace(/^https?:\/\/[^/]*/, ''));
    return new Response(JSON.stringify(answer.body), {
      status: answer.status,
      headers: { 'Content-Type': answer.status === 200 ? 'application/json' : 'application/problem+json' },
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
      <App>{node}</App>
    </QueryClientProvider>,
  );

function Difference({ to }: { to?: string }) {
  const difference = useDifference('LNT-1107', '2026-11-10', to);
  return <DifferenceSince difference={difference} now={NOW} csv="/difference.csv" close={() => undefined} />;
}

const difference: Schemas['Difference'] = {
  from: '2026-11-11T00:00:00Z',
  to: '2026-11-30T04:00:00Z',
  had: 3,
  has: 4,
  became: [
    { what: 'GAINED', hosts: { count: 2, names: ['ksk-1', 'ksk-2'] }, byPopulation: [{ population: 'Kiosks', hosts: 2 }] },
    { what: 'JOINED', hosts: { count: 0, names: [] }, byPopulation: [] },
    { what: 'LOST', hosts: { count: 1, names: ['off-1'] }, byPopulation: [{ population: 'Desktops', hosts: 1 }] },
    { what: 'LEFT', hosts: { count: 0, names: [] }, byPopulation: [] },
    { what: 'KEPT', hosts: { count: 2, names: ['off-2', 'off-3'] }, byPopulation: [{ population: 'Desktops', hosts: 2 }] },
  ],
};

describe('the difference between two days', () => {
  it('says who has got it since, and who lost it', async () => {
    answer = { status: 200, body: difference };
    show(<Difference />);
    expect(await screen.findByText('have got it since', { exact: false })).toBeTruthy();
    const text = document.body.textContent ?? '';
    expect(text).toContain('At the end of Tue 10 Nov 3 hosts had it, now 4.');
    expect(text).toContain('2 hosts have got it since: ksk-1, ksk-2');
    expect(text).toContain('1 host had it then and have it no more: off-1');
    expect(text).not.toContain('not there');
    expect(asked).toEqual(['/api/carriers/LNT-1107/difference?from=2026-11-10']);
  });

  it('names the later day where that is not now', async () => {
    answer = { status: 200, body: { ...difference, to: '2026-11-21T00:00:00Z' } };
    show(<Difference to="2026-11-20" />);
    expect(await screen.findByText('on Fri 20 Nov')).toBeTruthy();
  });

  it('says why it cannot be told', async () => {
    answer = { status: 400, body: { title: 'Bad', detail: 'the later day comes after the earlier one', status: 400 } };
    show(<Difference to="2026-11-01" />);
    expect(await screen.findByText(/the later day comes after the earlier one/)).toBeTruthy();
  });
});

describe('the hosts of a past day', () => {
  function Hosts() {
    return <PastHosts hosts={usePastHosts('LNT-1107', '2026-11-10', [], undefined)} />;
  }

  it('stand with the state and the version of then', async () => {
    answer = {
      status: 200,
      body: {
        hosts: [
          {
            name: 'ksk-1',
            population: 'Kiosks',
            state: 'MISSING',
            versions: [{ product: 'desk', found: '1.0', expected: '2.0' }],
          },
        ],
        count: 1,
      },
    };
    show(<Hosts />);
    expect((await screen.findByText('ksk-1')).closest('tr')?.textContent).toBe('ksk-1Kiosksmissingdesk 1.0, fixed in 2.0');
  });

  it('says so where there was none', async () => {
    answer = { status: 200, body: { hosts: [], count: 0 } };
    show(<Hosts />);
    expect(await screen.findByText('No host was in this state.')).toBeTruthy();
  });
});
