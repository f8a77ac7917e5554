import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { type FormEvent, useEffect, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { api, body, Refusal } from '../api/client';
import { useRefresh } from '../api/queries';
import { Heading } from '../frame/Heading';

export function SignIn({ unreachable }: { unreachable: boolean }) {
  const refresh = useRefresh();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  /** Of the second factor; asked for once the server says that the account has one. */
  const [code, setCode] = useState<string | undefined>();
  const [fault, setFault] = useState(unreachable ? 'The server does not answer. It may still be starting; try again in a moment.' : '');
  const [busy, setBusy] = useState(false);

  const provider = useQuery({ queryKey: ['provider of identities'], queryFn: () => body(api.GET('/api/sessions/openid')) }).data?.name;
  const refused = (error: unknown) =>
    setFault(`Not signed in: ${error instanceof Refusal ? error.message : 'the server does not answer'}.`);

  async function go() {
    setBusy(true);
    try {
      window.location.assign((await body(api.POST('/api/sessions/openid/beginnings'))).address);
    } catch (error) {
      refused(error);
      setBusy(false);
    }
  }

  const { pathname } = useLocation();
  const navigate = useNavigate();
  /** Its answer counts once, however often this is drawn. */
  const answered = useRef(false);
  useEffect(() => {
    if (pathname === '/signed-in' && !answered.current) {
      answered.current = true;
      const address = window.location.href;
      setBusy(true);
      navigate('/', { replace: true });
      api
        .POST('/api/sessions/openid', { body: { address } })
        .then(() => refresh())
        .catch((error: unknown) => setFault(`Not signed in: ${error instanceof Refusal ? error.message : 'the server does not answer'}.`))
        .finally(() => setBusy(false));
    }
  }, [pathname, navigate, refresh]);

  async function submit(event: FormEvent) {
    event.preventDefault();
    setBusy(true);
    try {
      await api.POST('/api/sessions', { body: { name, password, code } });
      await refresh();
    } catch (error) {
      if (error instanceof Refusal && error.field === 'code' && code === undefined) {
        setCode('');
        setFault('');
        return;
      }
      refused(error);
    } finally {
      setBusy(false);
    }
  }

  return (
    <main className="signin">
      <Heading>Lucid Verdict</Heading>
      <p className="mid">Which released updates your hosts get, when, and why.</p>
      <form onSubmit={submit}>
        <label htmlFor="name">Name</label>
        <Input id="name" autoFocus autoComplete="username" value={name} onChange={(e) => setName(e.target.value)} />
        <label htmlFor="password">Password</label>
        <Input
          id="password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        {code !== undefined && (
          <>
            <label htmlFor="code">The six digits that your authenticator shows</label>
            <Input
              id="code"
              inputMode="numeric"
              autoComplete="one-time-code"
              autoFocus
              maxLength={10}
              value={code}
              onChange={(e) => setCode(e.target.value)}
            />
          </>
        )}
        {fault !== '' && (
          <p className="fault-line" role="alert">
            {fault}
          </p>
        )}
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={busy}>
            Sign in
          </Button>
          {provider !== undefined && (
            <Button disabled={busy} onClick={go}>
              Sign in by {provider}
            </Button>
          )}
        </div>
      </form>
    </main>
  );
}
