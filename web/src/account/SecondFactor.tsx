import { Button, Input, QRCode } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import styles from './SecondFactor.module.css';

/** A second factor: six digits that change every half minute, from an authenticator that holds a key (RFC 6238). */
export function SecondFactor({ has, asked = false }: { has: boolean; asked?: boolean }) {
  return (
    <section>
      <h2>Second factor</h2>
      {has ? <GiveUp /> : <SetUp asked={asked} />}
    </section>
  );
}

function SetUp({ asked }: { asked: boolean }) {
  const [code, setCode] = useState('');
  const begin = useChange(() => body(api.POST('/api/sessions/current/second-factor')));
  const confirm = useChange(() => api.PUT('/api/sessions/current/second-factor', { body: { code } }));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    confirm.mutate(undefined);
  };
  if (begin.data === undefined) {
    return (
      <>
        <p className="mid">
          {asked ? 'Your role asks for one before anything else. ' : ''}
          Signing in then asks for six digits as well, which an authenticator on your telephone or computer shows. Who learns your password
          cannot sign in with it alone.
        </p>
        <div className="actions">
          <Button type={asked ? 'primary' : 'default'} loading={begin.isPending} onClick={() => begin.mutate(undefined)}>
            Set up a second factor
          </Button>
        </div>
        {begin.error && (
          <p className="fault-line" role="alert">
            Not begun: {begin.error.message}
          </p>
        )}
      </>
    );
  }
  return (
    <form onSubmit={submit}>
      <p className="mid">Let the authenticator read this picture, or type the key into it. Then enter the six digits that it shows.</p>
      <QRCode value={begin.data.address} type="svg" size={168} bordered={false} color="#000" bgColor="#fff" />
      <p>
        <code className={styles.anywhere}>{begin.data.key.replace(/(.{4})/g, '$1 ').trim()}</code>
      </p>
      <label htmlFor="first-code">The six digits</label>
      <Input
        id="first-code"
        inputMode="numeric"
        autoComplete="one-time-code"
        autoFocus
        maxLength={10}
        value={code}
        onChange={(e) => setCode(e.target.value)}
      />
      {confirm.error && (
        <p className="fault-line" role="alert">
          Not set up: {confirm.error.message}
        </p>
      )}
      <div className="actions">
        <Button type="primary" htmlType="submit" loading={confirm.isPending} disabled={code.trim() === ''}>
          Ask for it from now on
        </Button>
      </div>
    </form>
  );
}

function GiveUp() {
  const [password, setPassword] = useState('');
  const remove = useChange(() => api.DELETE('/api/sessions/current/second-factor', { body: { password } }));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    remove.mutate(undefined, { onSuccess: () => setPassword('') });
  };
  return (
    <form onSubmit={submit}>
      <p className="mid">
        It is set up: signing in asks for six digits. For another authenticator give this one up first, with your password.
      </p>
      <label htmlFor="its-password">Your password</label>
      <Input
        id="its-password"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={(e) => setPassword(e.target.value)}
      />
      {remove.error && (
        <p className="fault-line" role="alert">
          Not changed: {remove.error.message}
        </p>
      )}
      <div className="actions">
        <Button htmlType="submit" loading={remove.isPending} disabled={password === ''}>
          Give it up
        </Button>
      </div>
    </form>
  );
}
