import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { OnSources } from './OnSources';

const NONE = { count: 0, names: [] };

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function show(sources: Schemas['SourcesOfUpdate']) {
  const fetched = vi.fn(
    async () => new Response(JSON.stringify(sources), { status: 200, headers: { 'Content-Type': 'application/json' } }),
  );
  vi.stubGlobal('fetch', fetched);
  const client = new QueryClient();
  const drawn = render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <AntApp>
          <OnSources id="LNT-1107" />
        </AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return { client, drawn };
}

it('names the sources that do not have it yet, and the hosts', async () => {
  show({
    there: { count: 40, names: ['k1'] },
    notYet: [
      { source: 'http://quay.example', hosts: { count: 2, names: ['k7', 'k8'] } },
      { source: '', hosts: { count: 1, names: ['k9'] } },
    ],
    notTold: { count: 1, names: ['old-1'] },
    notFetched: { count: 2, names: ['far-1', 'far-2'] },
    judgedByName: NONE,
  });
  const section = await screen.findByRole('region', { name: 'On their sources' });
  expect(section.textContent).toContain('40 of 43 hosts that lack it find it where they take updates from');
  expect(section.textContent).toContain('Not yet on http://quay.example: 2 hosts k7, k8');
  expect(section.textContent).toContain('Not yet on sources that they do not name: 1 host k9');
  expect(section.textContent).toContain('1 more host does not tell old-1');
  expect(section.textContent).toContain('Not known of 2 hosts, which fetched their lists last before it was published far-1, far-2');
});

it('says so where hosts are judged by the name of a source package alone', async () => {
  show({
    there: NONE,
    notYet: [],
    notFetched: NONE,
    notTold: { count: 2, names: ['a', 'b'] },
    judgedByName: { count: 2, names: ['a', 'b'] },
  });
  const section = await screen.findByRole('region', { name: 'On their sources' });
  expect(section.textContent).toContain('2 hosts tell no sources: only packages that bear its name are judged there');
  expect(section.textContent).not.toContain('find it where');
});

it('says nothing where no host tells anything', async () => {
  const { client, drawn } = show({
    there: NONE,
    notYet: [],
    notFetched: NONE,
    notTold: { count: 2, names: ['a', 'b'] },
    judgedByName: NONE,
  });
  await waitFor(() => expect(client.getQueryState(['sources', 'LNT-1107'])?.status).toBe('success'));
  expect(drawn.container.textContent).toBe('');
});
