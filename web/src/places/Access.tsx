import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { Failed } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { day } from '../words/dates';

type Role = Schemas['NewAccount']['role'];
type Scope = Schemas['NewToken']['scope'];

/** People and machine tokens, plainly. */
export default function Access() {
  return (
    <main>
      <div className="head">
        <h1>Access</h1>
        <span className="mid">Who signs in, and which machines may send.</span>
      </div>
      <div className="page" style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fit, minmax(380px, 1fr))', gap: 32 }}>
        <People />
        <Tokens />
      </div>
    </main>
  );
}

function People() {
  const accounts = useQuery({ queryKey: ['accounts'], queryFn: () => body(api.GET('/api/accounts')) });
  const [name, setName] = useState('');
  const [displayName, setDisplayName] = useState('');
  const [password, setPassword] = useState('');
  const [role, setRole] = useState<Role>('ANALYST');
  const add = useChange((account: Schemas['NewAccount']) => body(api.POST('/api/accounts', { body: account })));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(
      { name, displayName, role, password },
      {
        onSuccess: () => {
          setName('');
          setDisplayName('');
          setPassword('');
        },
      },
    );
  };
  return (
    <section>
      <h2>People</h2>
      {accounts.isError && <Failed what="The people" error={accounts.error} again={accounts.refetch} />}
      <table className="list">
        <thead>
          <tr>
            <th scope="col">Signs in as</th>
            <th scope="col">Name in the record</th>
            <th scope="col">Role</th>
          </tr>
        </thead>
        <tbody>
          {accounts.data?.map((account) => (
            <tr key={account.name}>
              <td>{account.name}</td>
              <td>{account.displayName}</td>
              <td>{account.role.toLowerCase()}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <form onSubmit={submit} className="actions">
        <Input
          aria-label="Signs in as"
          placeholder="signs in as"
          style={{ width: 130 }}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Input
          aria-label="Name in the record"
          placeholder="name in the record"
          style={{ width: 150 }}
          value={displayName}
          onChange={(e) => setDisplayName(e.target.value)}
        />
        <Input
          type="password"
          aria-label="Password"
          placeholder="password, 10 or more"
          autoComplete="new-password"
          style={{ width: 180 }}
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        <Select
          aria-label="Role"
          style={{ width: 130 }}
          value={role}
          onChange={setRole}
          options={[
            { value: 'READER', label: 'reader' },
            { value: 'ANALYST', label: 'analyst' },
            { value: 'ADMINISTRATOR', label: 'administrator' },
          ]}
        />
        <Button htmlType="submit" loading={add.isPending}>
          Add
        </Button>
      </form>
      {add.error && (
        <p className="fault-line" role="alert">
          Not added: {add.error.message}
        </p>
      )}
    </section>
  );
}

function Tokens() {
  const now = useNow();
  const tokens = useQuery({ queryKey: ['tokens'], queryFn: () => body(api.GET('/api/tokens')) });
  const [name, setName] = useState('');
  const [scope, setScope] = useState<Scope>('REPORT');
  const make = useChange((token: Schemas['NewToken']) => body(api.POST('/api/tokens', { body: token })));
  const revoke = useChange((token: string) => api.DELETE('/api/tokens/{name}', { params: { path: { name: token } } }));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate({ name, scope }, { onSuccess: () => setName('') });
  };
  return (
    <section>
      <h2>Machine tokens</h2>
      {tokens.isError && <Failed what="The tokens" error={tokens.error} again={tokens.refetch} />}
      <table className="list">
        <thead>
          <tr>
            <th scope="col">Token</th>
            <th scope="col">May</th>
            <th scope="col">Made</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {tokens.data?.map((token) => (
            <tr key={token.name}>
              <td>{token.name}</td>
              <td>{token.scope === 'IMPORT' ? 'bring any document' : 'report hosts'}</td>
              <td>{day(token.created, now)}</td>
              <td>
                <button type="button" className="plain link" onClick={() => revoke.mutate(token.name)}>
                  Revoke
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <form onSubmit={submit} className="actions">
        <Input
          aria-label="Name of the token"
          placeholder="name"
          style={{ width: 150 }}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Select
          aria-label="What it may do"
          style={{ width: 170 }}
          value={scope}
          onChange={setScope}
          options={[
            { value: 'REPORT', label: 'report hosts' },
            { value: 'IMPORT', label: 'bring any document' },
          ]}
        />
        <Button htmlType="submit" loading={make.isPending}>
          Make
        </Button>
      </form>
      {make.error && (
        <p className="fault-line" role="alert">
          Not made: {make.error.message}
        </p>
      )}
      {make.data && (
        <p className="fault-line">
          The token {make.data.name}, shown this once: <code>{make.data.token}</code>
        </p>
      )}
    </section>
  );
}
