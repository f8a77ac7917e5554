import { Button, Input } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, Refusal } from '../api/client';
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
      setFault(`Not signed in: ${error instanceof Refusal ? error.message : 'the server does not answer'}.`);
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
        </div>
      </form>
    </main>
  );
}
