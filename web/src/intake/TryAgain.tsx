import { App, Button, Input, Popconfirm } from 'antd';
import { useState } from 'react';
import { api, type Beside, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import styles from './TryAgain.module.css';
import { WhosePackages } from './WhosePackages';

/** A refused document is kept, and taken once more after what was missing has come, or is told here. */
export function TryAgain({ document, namespaces }: { document: Schemas['Document']; namespaces: string[] }) {
  const [beside, setBeside] = useState<Beside>({});
  const { message } = App.useApp();
  const trial = useChange(
    () =>
      body(
        api.POST('/api/documents/{number}/retries', {
          params: { path: { number: document.number } },
          body: { namespace: beside.namespace, distro: beside.distro, columns: {} },
        }),
      ),
    'Not tried',
  );
  const wantsNamespace = document.problems.some((problem) => problem.reason.includes('namespace of their package URLs'));
  const again = () =>
    trial.mutate(undefined, {
      onSuccess: (result) =>
        message.info(result.outcome === 'REJECTED' ? `${document.name} was refused again: see why.` : `${document.name} was taken.`),
    });
  return (
    <div className={styles.form}>
      {wantsNamespace && <WhosePackages open namespaces={namespaces} beside={beside} change={setBeside} />}
      <Button size="small" loading={trial.isPending} disabled={wantsNamespace && !beside.namespace} onClick={again}>
        {document.outcome === 'WAITING' ? 'Take it' : 'Try again'}
      </Button>
      <PutAside number={document.number} />
    </div>
  );
}

/** Says that nothing more is to be done about a document; what it held is forgotten. */
export function PutAside({ number }: { number: number }) {
  const [words, setWords] = useState('');
  const dismiss = useChange(
    () =>
      api.POST('/api/documents/{number}/dismissals', {
        params: { path: { number } },
        body: words.trim() === '' ? {} : { words },
      }),
    'Not put aside',
  );
  return (
    <Popconfirm
      title="Put it aside? It is not asked about again, and its content is deleted; that it came stays in the record."
      description={
        <Input
          aria-label="Why it is put aside"
          placeholder="why, for the record"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      }
      okText="Put aside"
      onConfirm={() => dismiss.mutate(undefined)}
    >
      <Button size="small" loading={dismiss.isPending}>
        Put aside
      </Button>
    </Popconfirm>
  );
}
