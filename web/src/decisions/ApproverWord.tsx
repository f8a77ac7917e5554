import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, Refusal } from '../api/client';
import { useChange } from '../api/queries';
import { useLastAct } from '../frame/lastAct';
import styles from './ApproverWord.module.css';

interface Props {
  number: number;
  author: string;
  /** What the button says: "Approve for 12 hosts". */
  approve: string;
  ready: boolean;
  /** Approving it was refused, or what it would do cannot be told. */
  fault: unknown;
  approving: boolean;
  onApprove: () => void;
}

/** What an approver says about something proposed: yes, or why not. */
export function ApproverWord({ number, author, approve, ready, fault, approving, onApprove }: Props) {
  const { done } = useLastAct();
  const [words, setWords] = useState('');
  const returning = useChange(
    (why: string) => api.POST('/api/proposals/{number}/returns', { params: { path: { number } }, body: { words: why } }),
    '',
  );
  const refused = fault ?? returning.error;
  return (
    <>
      {refused instanceof Refusal && (
        <p role="alert" className="strong">
          {refused.message}
        </p>
      )}
      <div className="actions">
        <Button type="primary" disabled={!ready} loading={approving} onClick={onApprove}>
          {approve}
        </Button>
        <Input
          aria-label="Why it is sent back"
          className={styles.why}
          placeholder="or send it back, because …"
          maxLength={2000}
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <Button
          disabled={words.trim() === ''}
          loading={returning.isPending}
          onClick={() => returning.mutate(words, { onSuccess: () => done({ words: `Sent back to ${author}.` }) })}
        >
          Send back
        </Button>
      </div>
    </>
  );
}
