import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, expect, it, vi } from 'vitest';
import { Chosen, useAskNow, useExceptThese } from './Chosen';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const ADDRESS = 'address';

function Shown({ names, asked }: { names: string[]; asked: () => void }) {
  const { pathname, search } = useLocation();
  const exceptThese = useExceptThese();
  const ask = useAskNow(asked);
  return (
    <>
      <Chosen
        names={names}
        askNow={() => ask.now(names)}
        except={{ update: 'LNT-1107', word: () => exceptThese(names, 'LNT-1107') }}
        none={() => {}}
      />
      <output aria-label={ADDRESS}>{pathname + decodeURIComponent(search)}</output>
    </>
  );
}

function show(names: string[], answers: Record<string, object>) {
  const asked = vi.fn();
  vi.stubGlobal('fetch', async (input: Request) => {
    const path = new URL(input.url).pathname;
    return new Response(JSON.stringify(answers[path] ?? {}), { status: 200, headers: { 'Content-Type': 'application/json' } });
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <AntApp>
          <Shown names={names} asked={asked} />
        </AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return asked;
}

it('words an exception for the chosen hosts as the server names them', async () => {
  show(['k 1', 'k2'], { '/api/host-names': { where: 'name in ("k 1", k2)', unknown: [], moreUnknown: 0 } });
  fireEvent.click(screen.getByRole('button', { name: /Except from LNT-1107/ }));
  await waitFor(() => expect(screen.getByLabelText(ADDRESS).textContent).toBe('/cases/LNT-1107?except=yes&where=name in ("k 1", k2)'));
});

it('asks the chosen hosts, and tells which names are no host', async () => {
  const asked = show(['k1', 'k2'], { '/api/asks': { asked: 1, unknown: ['k2'] } });
  fireEvent.click(screen.getByRole('button', { name: /Ask now/ }));
  expect(await screen.findByText('1 host is asked to report at once. No host is called k2.')).toBeDefined();
  expect(asked).toHaveBeenCalledOnce();
});
