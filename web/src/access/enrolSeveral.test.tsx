import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import { EnrolSeveral } from './EnrolSeveral';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

it('makes a token for each host once, hands them over as one file, and names those that were refused', async () => {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
  const asked: unknown[] = [];
  vi.stubGlobal('fetch', async (input: Request) => {
    const draft = JSON.parse(await input.text());
    asked.push(draft);
    const bad = draft.host === 'taken';
    return new Response(
      JSON.stringify(bad ? { detail: 'there is a token of this name', status: 409 } : { ...draft, token: `t-${draft.host}` }),
      {
        status: bad ? 409 : 201,
        headers: { 'Content-Type': bad ? 'application/problem+json' : 'application/json' },
      },
    );
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <EnrolSeveral days={7} />
    </QueryClientProvider>,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Enrol several hosts' }));
  fireEvent.change(screen.getByLabelText('Names of the hosts to enrol'), { target: { value: 'k-1, taken\nk-2\nk-1' } });
  fireEvent.click(screen.getByRole('button', { name: 'Make 3 tokens for enrolment' }));
  const file = await screen.findByRole('link', { name: 'the file with all of them' });
  expect(decodeURIComponent(file.getAttribute('href') ?? '')).toContain('host,token\r\n"k-1","t-k-1"\r\n"k-2","t-k-2"');
  expect(screen.getByRole('alert').textContent).toContain('Not made for taken: there is a token of this name');
  expect(asked).toEqual(['k-1', 'taken', 'k-2'].map((host) => ({ name: `enrol ${host}`, scope: 'ENROL', host, formats: [], days: 7 })));
});
