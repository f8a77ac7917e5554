import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, Popconfirm, Select } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange, usePopulations, useSession } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Failed } from '../frame/Loading';
import styles from './access.module.css';
import { HandOver } from './HandOver';

type Account = Schemas['Account'];
type Role = Account['role'];

const ROLES: { value: Role; label: string }[] = [
  { value: 'READER', label: 'reader: reads everything' },
  { value: 'DESK', label: 'service desk: who carries what' },
  { value: 'OPERATOR', label: 'operator: own populations' },
  { value: 'ANALYST', label: 'analyst: judges' },
  { value: 'APPROVER', label: 'approver: reads, signs off' },
  { value: 'ADMINISTRATOR', label: 'administrator: people, tokens' },
];
const roleWord = (role: Role) => (role === 'DESK' ? 'service desk' : role.toLowerCase());

/** Who signs in, and as what. */
export function People() {
  const accounts = useQuery({ queryKey: ['accounts'], queryFn: () => body(api.GET('/api/accounts')) });
  const own = useSession().data?.login;
  const [changing, setChanging] = useState<Account | undefined>();
  const [handingOver, setHandingOver] = useState<string>();
  const unbind = useChange(
    (name: string) => api.DELETE('/api/accounts/{name}/openid-subject', { params: { path: { name } } }),
    'Not changed',
  );
  const remove = useChange((name: string) => api.DELETE('/api/accounts/{name}', { params: { path: { name } } }), 'Not removed');
  return (
    <section>
      <h2>People</h2>
      {accounts.isLoadingError && <Failed what="The people" error={accounts.error} again={accounts.refetch} />}
      <table className="list" aria-label="People">
        <thead>
          <tr>
            <th scope="col">Signs in as</th>
            <th scope="col">Name in the record</th>
            <th scope="col">Role</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {accounts.data?.map((account) => (
            <Row key={account.name} what={account.name} columns={5}>
              {() => (
                <tr>
                  <td>{account.name}</td>
                  <td>{account.displayName}</td>
                  <td>
                    {roleWord(account.role)}
                    {account.populations.length > 0 && <span className="mid"> of {account.populations.join(', ')}</span>}
                    {account.oneTime && <span className="mid">, has a one-time password</span>}
                    {account.secondFactor && <span className="mid">, with a second factor</span>}
                    {account.byProvider && <span className="mid">, known to the provider of identities</span>}
                  </td>
                  <td className="nowrap">
                    <button type="button" className="plain link" onClick={() => setChanging(account)}>
                      Change
                    </button>{' '}
                    {account.byProvider && (
                      <Popconfirm
                        title={`Find ${account.displayName} anew? The next one who signs in there as ${account.name} is taken for it.`}
                        okText="Find anew"
                        onConfirm={() => unbind.mutate(account.name)}
                      >
                        <button type="button" className="plain link">
                          Find anew
                        </button>
                      </Popconfirm>
                    )}{' '}
                    <button type="button" className="plain link" onClick={() => setHandingOver(account.displayName)}>
                      Hand over
                    </button>{' '}
                    {account.name !== own && (
                      <Popconfirm
                        title={`Remove ${account.displayName}? The record keeps what was decided under that name. What they answer for can be handed over before or after.`}
                        okText="Remove"
                        onConfirm={() => remove.mutate(account.name)}
                      >
                        <button type="button" className="plain link">
                          Remove
                        </button>
                      </Popconfirm>
                    )}
                  </td>
                </tr>
              )}
            </Row>
          ))}
        </tbody>
      </table>
      {handingOver !== undefined && <HandOver key={handingOver} person={handingOver} close={() => setHandingOver(undefined)} />}
      <AccountForm
        key={changing === undefined ? 'new' : `${changing.name} ${changing.version}`}
        before={changing}
        done={() => setChanging(undefined)}
      />
      <SecondFactorRoles />
    </section>
  );
}

/** Roles that must have a second factor. */
function SecondFactorRoles() {
  const asked = useQuery({ queryKey: ['second factor roles'], queryFn: () => body(api.GET('/api/second-factor-roles')) });
  const change = useChange((roles: Role[]) => body(api.PUT('/api/second-factor-roles', { body: { roles } })), 'Not changed');
  return (
    <p className="actions">
      <span>A second factor is asked of</span>
      <Select
        aria-label="Roles that are asked for a second factor"
        mode="multiple"
        placeholder="nobody"
        className={styles.several}
        value={asked.data?.roles ?? []}
        onChange={(roles) => change.mutate(roles)}
        options={ROLES.map(({ value }) => ({ value, label: roleWord(value) }))}
      />
    </p>
  );
}

/** A new person, or a change of one. A password given here is for once. */
function AccountForm({ before, done }: { before?: Account; done: () => void }) {
  const [name, setName] = useState('');
  const [displayName, setDisplayName] = useState(before?.displayName ?? '');
  const [password, setPassword] = useState('');
  const [role, setRole] = useState<Role>(before?.role ?? 'ANALYST');
  const [own, setOwn] = useState<string[]>(before?.populations ?? []);
  const [withoutSecondFactor, setWithout] = useState(false);
  const populations = usePopulations();
  const save = useChange(() =>
    before === undefined
      ? body(api.POST('/api/accounts', { body: { name, displayName, role, populations: own, password } }))
      : body(
          api.PUT('/api/accounts/{name}', {
            params: { path: { name: before.name }, header: { 'If-Match': before.version } },
            body: { displayName, role, populations: own, password: password === '' ? undefined : password, withoutSecondFactor },
          }),
        ),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined, {
      onSuccess: () => {
        setName('');
        setDisplayName('');
        setPassword('');
        done();
      },
    });
  };
  return (
    <form onSubmit={submit} className="actions" aria-label={before === undefined ? 'A new person' : `Change ${before.name}`}>
      {before === undefined ? (
        <Input
          aria-label="Signs in as"
          placeholder="signs in as"
          className={styles.short}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      ) : (
        <strong>{before.name}</strong>
      )}
      <Input
        aria-label="Name in the record"
        placeholder="name in the record"
        className={styles.short}
        value={displayName}
        onChange={(e) => setDisplayName(e.target.value)}
      />
      <Select aria-label="Role" className={styles.medium} value={role} onChange={setRole} options={ROLES} />
      {role === 'OPERATOR' && (
        <Select
          aria-label="Own populations"
          mode="multiple"
          placeholder="own populations"
          className={styles.several}
          value={own}
          onChange={setOwn}
          options={populations.data?.populations.map((p) => ({ value: p.id, label: p.name }))}
          optionFilterProp="label"
        />
      )}
      <Input
        type="password"
        aria-label="Password"
        placeholder={before === undefined ? 'one-time password, 10 or more' : 'new one-time password, or empty'}
        autoComplete="new-password"
        className={styles.medium}
        value={password}
        onChange={(e) => setPassword(e.target.value)}
      />
      {before?.secondFactor === true && (
        <Checkbox checked={withoutSecondFactor} onChange={(e) => setWithout(e.target.checked)}>
          take the second factor away
        </Checkbox>
      )}
      <Button htmlType="submit" loading={save.isPending}>
        {before === undefined ? 'Add' : 'Save'}
      </Button>
      {before !== undefined && <Button onClick={done}>Cancel</Button>}
      {save.error && (
        <p className={`fault-line ${styles.line}`} role="alert">
          {before === undefined ? 'Not added' : 'Not changed'}: {save.error.message}
        </p>
      )}
    </form>
  );
}
