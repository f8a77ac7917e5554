import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LastActProvider, useLastAct } from './lastAct';

function Keys() {
  const { done, takeBack } = useLastAct();
  return (
    <>
      <button type="button" onClick={() => done({ words: 'Block on 5 hosts.', undo: '/api/decisions?verdict=7' })}>
        decide
      </button>
      <button type="button" onClick={takeBack}>
        back
      </button>
    </>
  );
}

const show = (person: string) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <AntApp>
        <LastActProvider person={person}>
          <Keys />
        </LastActProvider>
      </AntApp>
    </QueryClientProvider>,
  );

describe('the last act', () => {
  const sent: string[] = [];

  beforeEach(() => {
    sent.length = 0;
    sessionStorage.clear();
    vi.stubGlobal('matchMedia', () => ({ matches: false, addListener: () => {}, removeListener: () => {} }));
    vi.stubGlobal('fetch', async (request: Request | string, init?: RequestInit) => {
      const address = typeof request === 'string' ? request : request.url;
      const method = typeof request === 'string' ? (init?.method ?? 'GET') : request.method;
      sent.push(`${method} ${address.replace(/^https?:\/\/[^/]+/, '')}`);
      return method === 'DELETE' ? new Response(null, { status: 204 }) : Response.json([]);
    });
  });

  afterEach(() => vi.unstubAllGlobals());

  it('is taken back also after the page was read anew, once, and by nobody else', async () => {
    show('m.aldane');
    fireEvent.click(screen.getByText('decide'));
    cleanup();
    show('j.fenn');
    fireEvent.click(screen.getByText('back'));
    await screen.findByText(/^Nothing was decided in this window/);
    expect(sent).toEqual([]);
    cleanup();
    show('m.aldane');
    fireEvent.click(screen.getByText('back'));
    await waitFor(() => expect(sent).toContain('DELETE /api/decisions?verdict=7'));
    cleanup();
    sent.length = 0;
    show('m.aldane');
    fireEvent.click(screen.getByText('back'));
    await screen.findAllByText(/^Nothing was decided in this window/);
    expect(sent).toEqual([]);
  });
});
