import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { useSession } from '../api/queries';
import { LastActProvider } from '../frame/lastAct';
import { Retirement } from './Retirement';

const NOW = new Date('2026-11-24T05:00:00Z');
const sent: { method: string; url: string; body: string }[] = [];
let role: Schemas['Session']['role'] = 'ANALYST';

beforeEach(() => {
  sent.length = 0;
  role = 'ANALYST';
  vi.stubGlobal('fetch', async (request: Request | string, init?: RequestInit) => {
    const asked = request instanceof Request ? request : new Request(new URL(request, window.location.origin), init);
    if (asked.url.endsWith('/api/sessions/current')) {
      return new Response(JSON.stringify({ role, populations: [] } satisfies Partial<Schemas['Session']>), {
        status: 200,
        headers: { 'Content-Type': 'application/json' },
      });
    }
    sent.push({ method: asked.method, url: new URL(asked.url).pathname, body: await asked.text() });
    return asked.method === 'DELETE'
      ? new Response(null, { status: 204 })
      : new Response(JSON.stringify({ name: 'old 1', undo: '/api/hosts/old%201/retirement' } satisfies Schemas['Retired']), {
          status: 201,
          headers: { 'Content-Type': 'application/json' },
        });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

/** Says who is signed in, once that is known. */
function Who() {
  const session = useSession().data;
  return session === undefined ? null : <p>signed in as {session.role}</p>;
}

function show(host: Partial<Schemas['HostView']>) {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <AntApp>
          <LastActProvider person="m.aldane">
            <Who />
            <Retirement host={{ name: 'old 1', ...host } as Schemas['HostView']} now={NOW} />
          </LastActProvider>
        </AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

describe('the retirement of a host', () => {
  it('is told with its reason, and ends by one press', async () => {
    show({ retirement: { reason: 'scrapped', author: 'M. Aldane', at: '2026-11-20T08:00:00Z' } });
    expect(document.body.textContent).toContain('Fri 20 Nov, M. Aldane: scrapped. It counts nowhere');
    fireEvent.click(await screen.findByRole('button', { name: 'Bring it back' }));
    await vi.waitFor(() => expect(sent.map((one) => `${one.method} ${one.url}`)).toContain('DELETE /api/hosts/old%201/retirement'));
  });
  it('wants a reason', async () => {
    show({});
    fireEvent.click(await screen.findByRole('button', { name: /Retire this host/ }));
    fireEvent.change(screen.getByLabelText('It is there no more, because'), { target: { value: 'replaced' } });
    fireEvent.click(screen.getByRole('button', { name: 'Retire' }));
    await vi.waitFor(() =>
      expect(sent[0]).toEqual({ method: 'POST', url: '/api/hosts/old%201/retirement', body: '{"reason":"replaced"}' }),
    );
  });
  it('is nothing that a reader may decide', async () => {
    role = 'READER';
    show({});
    expect(await screen.findByText('signed in as READER')).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });
});
