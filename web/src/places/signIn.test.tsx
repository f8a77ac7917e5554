import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { SignIn } from './SignIn';

let sent: string[];
let provider: { name?: string };
let refusal: string | undefined;
const gone = vi.fn();

const answer = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

beforeEach(() => {
  sent = [];
  provider = { name: 'Harbour accounts' };
  refusal = undefined;
  gone.mockReset();
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url, 'http://localhost').pathname;
    if (request.method === 'GET') {
      return answer(path === '/api/sessions/openid' ? provider : {});
    }
    sent.push(`${request.method} ${path} ${await request.text()}`);
    return refusal === undefined ? answer({ address: 'https://login.example.org/?state=1' }) : answer({ detail: refusal }, 401);
  });
  vi.stubGlobal('location', { ...window.location, assign: gone, href: 'https://lucid.example.org/signed-in?code=1&state=2' });
});

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const open = (at: string) =>
  render(
    <MemoryRouter initialEntries={[at]}>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <SignIn unreachable={false} />
      </QueryClientProvider>
    </MemoryRouter>,
  );

describe('signing in by a provider of identities', () => {
  it('is offered by its name, and leads to it', async () => {
    open('/');
    fireEvent.click(await screen.findByRole('button', { name: 'Sign in by Harbour accounts' }));
    await waitFor(() => expect(gone).toHaveBeenCalledWith('https://login.example.org/?state=1'));
  });

  it('is not offered where there is none', async () => {
    provider = {};
    open('/');
    await screen.findByRole('button', { name: 'Sign in' });
    expect(screen.queryByRole('button', { name: /Sign in by/ })).toBeNull();
  });

  it('sends the address with which the browser came back, once', async () => {
    open('/signed-in?code=1&state=2');
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]).toBe('POST /api/sessions/openid {"address":"https://lucid.example.org/signed-in?code=1&state=2"}');
  });

  it('says why it was refused', async () => {
    refusal = "by Harbour accounts: nobody signs in here as 's.nobody'; an administrator adds the account first";
    open('/signed-in?code=1&state=2');
    expect((await screen.findByRole('alert')).textContent).toContain(
      "Not signed in: by Harbour accounts: nobody signs in here as 's.nobody'",
    );
  });
});
