import { App, Button, Popconfirm } from 'antd';
import { api, type Schemas } from '../api/client';
import { useChange, useReadOtherwise } from '../api/queries';
import { count } from '../words/dates';
import styles from './ReadOtherwise.module.css';

/** So many are shown at once. */
const MOST = 50;

/** Documents that a newer reader reads otherwise than they count: nothing changes until somebody has looked. */
export function ReadOtherwise({ maySettle }: { maySettle: boolean }) {
  const otherwise = useReadOtherwise();
  if (otherwise.data === undefined || otherwise.data.length === 0) {
    return null;
  }
  return (
    <section className={styles.section} aria-label="Read otherwise now">
      <h2>Read otherwise now</h2>
      <p className="mid">
        This version reads {otherwise.data.length >= MOST && 'at least '}
        {count(otherwise.data.length, 'document')} otherwise than the one before did. Each counts as it was read until you say otherwise.
      </p>
      {maySettle && otherwise.data.length > 1 && <All />}
      <ul className={styles.documents}>
        {otherwise.data.map((document) => (
          <Document key={document.number} document={document} maySettle={maySettle} />
        ))}
      </ul>
    </section>
  );
}

/** After an upgrade there may be thousands; whoever has looked at some may trust the rest. */
function All() {
  const { message } = App.useApp();
  const settle = useChange(() => api.POST('/api/documents/readings'), 'Not settled');
  return (
    <Popconfirm
      title="Count all of them as they are read now? Which hosts lack what may change at once, and cases may come back."
      okText="Count all as read now"
      onConfirm={() => settle.mutate(undefined, { onSuccess: () => message.info('All documents count as they are read now.') })}
    >
      <Button size="small" loading={settle.isPending}>
        Count all as read now
      </Button>
    </Popconfirm>
  );
}

function Document({ document, maySettle }: { document: Schemas['ReadOtherwise']; maySettle: boolean }) {
  const { message } = App.useApp();
  const settle = useChange(
    (asReadNow: boolean) =>
      api.POST('/api/documents/{number}/readings', { params: { path: { number: document.number } }, body: { asReadNow } }),
    'Not settled',
  );
  const say = (asReadNow: boolean) =>
    settle.mutate(asReadNow, {
      onSuccess: () => message.info(`${document.name} counts as it ${asReadNow ? 'is read now' : 'was read before'}.`),
    });
  return (
    <li>
      <a href={`/api/documents/${document.number}/content`} download title="The document as it came">
        {document.name}
      </a>{' '}
      <span className="mid">
        {document.formatTitle}, {document.subject}
      </span>
      {document.refused !== undefined && <p>It cannot be read any more: {document.refused}. What was read of it counts on.</p>}
      {document.differences.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th scope="col">About</th>
              <th scope="col">What</th>
              <th scope="col">Counts</th>
              <th scope="col">Read now</th>
            </tr>
          </thead>
          <tbody>
            {document.differences.map((difference) => (
              <tr key={`${difference.subject} ${difference.part}`}>
                <td>{difference.subject}</td>
                <td>{difference.part}</td>
                <td>{difference.before || <span className="mid">nothing</span>}</td>
                <td>{difference.now || <span className="mid">nothing</span>}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {document.more > 0 && <p className="mid">And {count(document.more, 'more difference')}.</p>}
      {maySettle && (
        <div className="actions">
          {document.refused === undefined && (
            <Button size="small" loading={settle.isPending} onClick={() => say(true)}>
              Count it as read now
            </Button>
          )}
          <Button size="small" loading={settle.isPending} onClick={() => say(false)}>
            Keep it as it was
          </Button>
        </div>
      )}
    </li>
  );
}
