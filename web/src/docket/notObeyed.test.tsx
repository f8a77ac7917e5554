import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { NotObeyed } from './NotObeyed';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

it('names the cases that hosts say are not in force, and leads to them', async () => {
  const told: Schemas['NotObeyed'][] = [{ update: 'LNT-1107', title: 'Lantern Desktop 6.0.1107', hosts: { count: 1, names: ['k4'] } }];
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(told), { status: 200, headers: { 'Content-Type': 'application/json' } }));
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <AntApp>
          <NotObeyed />
        </AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  fireEvent.click(await screen.findByRole('button', { name: '1 case not in force on some hosts' }));
  const link = await screen.findByRole('link', { name: 'Lantern Desktop 6.0.1107' });
  expect(link.getAttribute('href')).toBe('/cases/LNT-1107');
  expect(link.parentElement?.textContent).toContain('on 1 host k4');
});
