import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import Weights from './Weights';

const USUAL: Schemas['Weights'] = {
  tiers: [8, 4, 2, 1],
  openness: { PUBLIC: 1, PARTNER: 0.6, INTERNAL: 0.35, ISOLATED: 0.1 },
  likelihoods: { CRITICAL: 0.1, HIGH: 0.05, MEDIUM: 0.02, LOW: 0.005 },
  knownExploited: 0.95,
  vectors: { NETWORK: 1, ADJACENT: 0.7, LOCAL: 0.5, PHYSICAL: 0.1 },
  bases: { CRITICAL: 9.5, HIGH: 8, MEDIUM: 5.5, LOW: 3 },
  hitShare: 1,
  harms: { REFUSED: 0.1, DEGRADED: 0.4, DOWN: 1 },
  namedIssue: 0.5,
  vagueIssue: 0.05,
  cannotBeRemoved: 1.5,
};

let role: Schemas['Session']['role'] = 'ANALYST';
let sent: { method: string; path: string; body: unknown; match: string | null }[];
let preview: () => Response;

const answer = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

beforeEach(() => {
  role = 'ANALYST';
  sent = [];
  preview = () =>
    answer({
      differences: ['tier 1 from 8.0 to 20.0'],
      suggestions: 1,
      moved: 2,
      effects: [
        {
          id: 'FTM-1',
          title: 'Fathom libtls',
          placeBefore: 2,
          placeAfter: 1,
          tiltBefore: 1,
          tiltAfter: 2.5,
          before: 'PILOT',
          after: 'FORCE',
        },
      ],
    } satisfies Schemas['WeightsPreview']);
  vi.stubGlobal('matchMedia', () => ({
    matches: false,
    addListener() {},
    removeListener() {},
    addEventListener() {},
    removeEventListener() {},
  }));
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url, 'http://localhost').pathname;
    const text = request.method === 'GET' ? '' : await request.text();
    sent.push({ method: request.method, path, body: text === '' ? undefined : JSON.parse(text), match: request.headers.get('If-Match') });
    if (path === '/api/sessions/current') {
      return answer({
        login: 'm.aldane',
        displayName: 'M. Aldane',
        role,
        pending: 'NOTHING',
        populations: [],
        secondFactor: false,
      } satisfies Schemas['Session']);
    }
    if (path === '/api/clock') {
      return answer({ now: '2026-11-24T04:56:00Z', movable: true } satisfies Schemas['ClockReading']);
    }
    if (path === '/api/weights/preview') {
      return preview();
    }
    return answer({ version: '"v1"', weights: USUAL, usual: USUAL } satisfies Schemas['WeightsPage']);
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const show = () =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <App>
        <MemoryRouter>
          <Weights />
        </MemoryRouter>
      </App>
    </QueryClientProvider>,
  );

const change = async (label: string, value: string) => fireEvent.change(await screen.findByLabelText(label), { target: { value } });

describe('the weights', () => {
  it('are previewed on the present docket before they are saved, and saved with their version', async () => {
    show();
    expect(await screen.findByText('Nothing is changed yet.')).toBeTruthy();
    await change('tier 1', '20');
    expect(await screen.findByText('default 8')).toBeTruthy();
    const table = await screen.findByRole('table', { name: 'Cases that would change' });
    expect(table.textContent).toContain('Fathom libtls2 → 11.00 → 2.50pilot → force');
    expect(document.body.textContent).toContain('1 suggestion would be another, 2 cases would stand elsewhere');
    expect(sent.some((one) => one.method === 'PUT')).toBe(false);
    fireEvent.click(screen.getByRole('button', { name: 'Save these weights' }));
    await waitFor(() => expect(sent.find((one) => one.method === 'PUT')).toBeTruthy());
    const put = sent.find((one) => one.method === 'PUT');
    expect(put?.body).toMatchObject({ tiers: [20, 4, 2, 1] });
    expect(put?.match).toBe('"v1"');
  });
  it('say why they are refused, and cannot be saved then', async () => {
    preview = () => answer({ detail: 'namedIssue: expected a number from 0.0 to 1.0, found 3.0', field: 'namedIssue' }, 422);
    show();
    await change('tier 2', '5');
    expect((await screen.findByRole('alert')).textContent).toContain('namedIssue: expected a number');
    expect((screen.getByRole('button', { name: 'Save these weights' }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(await screen.findByText('Nothing is changed yet.')).toBeTruthy();
  });
  it('can be read but not changed by a reader', async () => {
    role = 'READER';
    show();
    const tier = (await screen.findByLabelText('tier 1')) as HTMLInputElement;
    await waitFor(() => expect(tier.disabled).toBe(true));
    expect(document.body.textContent).toContain('Only an analyst can change the weights.');
  });
});
