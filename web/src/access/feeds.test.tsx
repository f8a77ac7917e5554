import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Feeds, keyWords } from '../intake/Feeds';
import { Subscriptions } from './Subscriptions';

const feed = (part: Partial<Schemas['FeedView']>): Schemas['FeedView'] => ({
  name: 'Fathom advisories',
  kind: 'CSAF_PROVIDER',
  address: 'https://fathom.example/provider-metadata.json',
  everyMinutes: 360,
  author: 'K. Strand',
  tried: '2026-11-24T04:00:00Z',
  succeeded: '2026-11-23T04:00:00Z',
  outcome: 'the server there answered 503',
  failures: 3,
  formats: ['CSAF'],
  due: '2026-11-24T06:00:00Z',
  ...part,
});

let feeds: Schemas['FeedView'][];
let sent: string[];
let refusal: string | undefined;

const answer = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

beforeEach(() => {
  feeds = [feed({}), feed({ name: 'Scores', kind: 'DOCUMENT', failures: 0, outcome: 'unchanged', tried: undefined, succeeded: undefined })];
  sent = [];
  refusal = undefined;
  vi.stubGlobal('matchMedia', () => ({
    matches: false,
    addListener() {},
    removeListener() {},
    addEventListener() {},
    removeEventListener() {},
  }));
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url, 'http://localhost').pathname;
    if (request.method !== 'GET') {
      sent.push(`${request.method} ${path} ${await request.text()}`);
      return refusal === undefined ? answer(feed({ outcome: '2 taken', failures: 0 })) : answer({ detail: refusal }, 422);
    }
    return path === '/api/clock'
      ? answer({ now: '2026-11-24T05:00:00Z', movable: true })
      : path === '/api/trusted-keys'
        ? answer([{ fingerprint: 'AB12CD34EF', owner: 'Fathom', author: 'K. Strand', added: '2026-11-20T00:00:00Z' }])
        : answer(feeds);
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

describe('feeds', () => {
  it('tell when they worked last, what the last try said, and when they come next', async () => {
    show(<Feeds mayFetch={false} />);
    const failing = await screen.findByRole('row', { name: /Fathom advisories/ });
    expect(failing.textContent).toContain('25 hours ago');
    expect(failing.textContent).toContain('the server there answered 503 (3 tries in a row)');
    expect(failing.textContent).toContain('today 06:00');
    expect((await screen.findByRole('row', { name: /Scores/ })).textContent).toContain('nevernot yet');
    expect(screen.queryByRole('button', { name: 'Fetch now' })).toBeNull();
  });
  it('are fetched now', async () => {
    show(<Feeds mayFetch />);
    fireEvent.click((await screen.findAllByRole('button', { name: 'Fetch now' }))[0] as HTMLElement);
    expect(await screen.findByText('Fathom advisories: 2 taken')).toBeTruthy();
    expect(sent[0]).toContain('POST /api/feeds/Fathom%20advisories/imports');
  });
  it('take no room where there is none', async () => {
    feeds = [];
    const { container } = show(<Feeds mayFetch />);
    await waitFor(() => expect(container.querySelector('table')).toBeNull());
  });
  it('are added with what lies there, and say why they are refused', async () => {
    refusal = "'ftp://x' is no web address";
    show(<Subscriptions />);
    fireEvent.change(await screen.findByLabelText('Name of the feed'), { target: { value: 'Tarn' } });
    fireEvent.change(screen.getByLabelText('Address of the feed'), { target: { value: 'ftp://x' } });
    fireEvent.click(screen.getByRole('button', { name: 'Add the feed' }));
    expect((await screen.findByRole('alert')).textContent).toContain("Not added: 'ftp://x' is no web address");
    expect(sent[0]).toContain('"kind":"DOCUMENT"');
    expect((await screen.findByRole('table', { name: 'Trusted keys' })).textContent).toContain('AB12CD34EF');
  });
  it('name keys by their last digits', () => {
    expect(keyWords('00112233445566778899AABBCCDDEEFF00112233')).toBe('…00112233');
  });
});
