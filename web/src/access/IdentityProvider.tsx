import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import styles from './access.module.css';

type Wanted = Schemas['NewOpenIdProvider'];

/** Who vouches for people beside their passwords. */
export function IdentityProvider() {
  const known = useQuery({ queryKey: ['openid provider'], queryFn: () => body(api.GET('/api/openid-provider')) });
  const [changed, setChanged] = useState<Partial<Wanted>>({});
  const save = useChange((wanted: Wanted) => api.PUT('/api/openid-provider', { body: wanted }));
  const forget = useChange(() => api.DELETE('/api/openid-provider'), 'Not removed');
  if (known.data === undefined) {
    return null;
  }
  const { provider } = known.data;
  const shown: Wanted = {
    name: provider?.name ?? '',
    issuer: provider?.issuer ?? '',
    client: provider?.client ?? '',
    address: provider?.address ?? window.location.origin,
    ...changed,
  };
  const set = (change: Partial<Wanted>) => setChanged({ ...changed, ...change });
  return (
    <section>
      <h2>Provider of identities</h2>
      <p className={`mid ${styles.lead}`}>
        People may sign in by it beside their passwords (OpenID Connect). An account is found by the name with which somebody signs in
        there, once; from then on by the identifier that the provider gives to nobody else. It must know{' '}
        <b>{`${shown.address.replace(/\/+$/, '')}/signed-in`}</b> as the address to come back to. Where a second factor is asked for, the
        provider must say that it asked for one.
      </p>
      <div className="actions">
        <Input
          aria-label="Name of the provider"
          placeholder="as people know it"
          value={shown.name}
          onChange={(e) => set({ name: e.target.value })}
        />
        <Input
          aria-label="Address of the provider"
          placeholder="https://login.example.org"
          value={shown.issuer}
          onChange={(e) => set({ issuer: e.target.value })}
        />
        <Input
          aria-label="Client at the provider"
          placeholder="client"
          autoComplete="off"
          value={shown.client}
          onChange={(e) => set({ client: e.target.value })}
        />
        <Input
          aria-label="Secret of the client"
          type="password"
          autoComplete="new-password"
          placeholder={provider?.hasSecret ? 'as it was' : 'secret, if it has one'}
          value={shown.secret ?? ''}
          onChange={(e) => set({ secret: e.target.value === '' ? undefined : e.target.value })}
        />
        <Input
          aria-label="Where the provider sends browsers back to"
          placeholder="https://lucid.example.org"
          value={shown.address}
          onChange={(e) => set({ address: e.target.value })}
        />
      </div>
      {(save.error ?? forget.error) && (
        <p className="fault-line" role="alert">
          Not kept: {(save.error ?? forget.error)?.message}
        </p>
      )}
      <div className="actions">
        <Button
          disabled={Object.keys(changed).length === 0}
          loading={save.isPending}
          onClick={() => save.mutate(shown, { onSuccess: () => setChanged({}) })}
        >
          Use this provider
        </Button>
        {provider !== undefined && (
          <Button loading={forget.isPending} onClick={() => forget.mutate(undefined, { onSuccess: () => setChanged({}) })}>
            Passwords only
          </Button>
        )}
      </div>
    </section>
  );
}
