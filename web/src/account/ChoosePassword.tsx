import { Button, Input } from 'antd';
import { type FormEvent, type ReactNode, useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';

/** One's own password: after a one-time one it must be chosen before anything else. */
export function ChoosePassword({ oneTime = false, done, more }: { oneTime?: boolean; done: () => void; more?: ReactNode }) {
  const [old, setOld] = useState('');
  const [chosen, setChosen] = useState('');
  const [again, setAgain] = useState('');
  const change = useChange(() => api.PUT('/api/sessions/current/password', { body: { old, chosen } }));
  const differs = again !== '' && again !== chosen;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (chosen === again) {
      change.mutate(undefined, { onSuccess: done });
    }
  };
  return (
    <section>
      <h2>Choose a password</h2>
      <p className="mid">
        {oneTime ? 'The one that you were given is for once. ' : ''}At least 10 characters, and none that many people use; other sessions of
        yours end when it is changed.
      </p>
      <form onSubmit={submit}>
        <label htmlFor="old">{oneTime ? 'The one-time password' : 'Your present password'}</label>
        <Input
          id="old"
          type="password"
          autoFocus={oneTime}
          autoComplete="current-password"
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
        <label htmlFor="chosen">The new password</label>
        <Input id="chosen" type="password" autoComplete="new-password" value={chosen} onChange={(e) => setChosen(e.target.value)} />
        <label htmlFor="again">The new password again</label>
        <Input id="again" type="password" autoComplete="new-password" value={again} onChange={(e) => setAgain(e.target.value)} />
        {(differs || change.error) && (
          <p className="fault-line" role="alert">
            {differs ? 'The two are not the same.' : `Not changed: ${change.error?.message}.`}
          </p>
        )}
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={change.isPending} disabled={chosen === '' || chosen !== again}>
            Change it
          </Button>
          {more}
        </div>
      </form>
    </section>
  );
}
