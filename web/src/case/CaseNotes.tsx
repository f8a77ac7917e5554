import { Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas, undoOf } from '../api/client';
import { usePeople } from '../api/queries';
import { useDecision } from '../decisions/useDecision';
import { Row } from '../frame/Boundary';
import { Choose } from '../frame/Choose';
import { DayPart } from '../frame/DayPart';
import { useLastAct } from '../frame/lastAct';
import { useNow } from '../frame/useNow';
import { day, isoDay } from '../words/dates';
import styles from './CaseNotes.module.css';
import { Field, Form } from './EvidenceDialogs';

type Page = Schemas['CaseView'];

/** What people wrote for whoever looks at the case next, the newest first. */
export function CaseNotes({ page, now, analyst, write }: { page: Page; now: Date; analyst: boolean; write: React.ReactNode }) {
  const { takeBackThese } = useLastAct();
  const standing = page.evidence.caseNotes.filter((note) => note.revokedAt === undefined);
  if (standing.length === 0 && !analyst) {
    return null;
  }
  return (
    <section>
      <h2>
        Notes <small>{standing.length === 0 ? 'none' : standing.length}</small>
      </h2>
      {standing.map((note) => (
        <Row key={note.number} what={`Note ${note.number}`}>
          {() => (
            <div>
              {note.objectsTo !== undefined && (
                <b>
                  Objects to{' '}
                  <Link to={`/cases/${encodeURIComponent(page.update.id)}/verdicts/${note.objectsTo.force}`}>
                    force no. {note.objectsTo.force}
                  </Link>
                  , which goes over <Link to={`/exceptions?at=${note.objectsTo.exception}`}>exception no. {note.objectsTo.exception}</Link>:{' '}
                </b>
              )}
              <span className={styles.words}>{note.words}</span>{' '}
              <span className="mid">
                {note.author}, {day(note.createdAt, now)}
              </span>{' '}
              {followUpWords(note, now)}{' '}
              {analyst && (
                <button
                  type="button"
                  className="plain link mid noprint"
                  onClick={() =>
                    takeBackThese({ words: `the note on ${page.update.id} by ${note.author}.`, undo: undoOf('caseNote', [note.number]) })
                  }
                >
                  {note.assignee === undefined && note.lookAgain === undefined && note.objectsTo === undefined ? 'Take back' : 'Done'}
                </button>
              )}
            </div>
          )}
        </Row>
      ))}
      {write}
    </section>
  );
}

/** "Seen to by M. Aldane, looked at again Thu 3 Dec." */
function followUpWords(note: Page['evidence']['caseNotes'][number], now: Date): string {
  const words = [
    note.assignee === undefined ? '' : `seen to by ${note.assignee}`,
    note.lookAgain === undefined ? '' : `looked at again ${day(`${note.lookAgain}T00:00:00Z`, now)}`,
  ].filter((part) => part !== '');
  const sentence = words.join(', ');
  return sentence === '' ? '' : `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.`;
}

/** Changes nothing that is weighed; a case with a note is no longer routine. */
export function CaseNoteDialog({ page, close }: { page: Page; close: () => void }) {
  const [words, setWords] = useState('');
  const [assignee, setAssignee] = useState<string>();
  const [lookAgain, setLookAgain] = useState<string>();
  const people = usePeople();
  const now = useNow();
  const note = useDecision({
    version: '',
    draft: { update: page.update.id, words, assignee, lookAgain },
    send: (draft, { 'Idempotency-Key': key }) =>
      body(api.POST('/api/case-notes', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
    said: () => `Wrote a note on ${page.update.id}.`,
    close,
  });
  return (
    <Form title="Write the note" close={close} send={note.submit} sending={note.pending} error={note.refused}>
      <Field label={`For whoever looks at ${page.update.id} next`}>
        {(id) => (
          <Input.TextArea
            id={id}
            rows={4}
            maxLength={4000}
            value={words}
            onChange={(e) => setWords(e.target.value)}
            placeholder="Asked the vendor; they answer on Monday"
          />
        )}
      </Field>
      <div className={styles.next}>
        Seen to by{' '}
        <Choose
          label="Seen to by"
          all="whoever looks at it next"
          value={assignee}
          options={(people.data ?? []).map((person) => [person.name, `${person.name}, ${person.role.toLowerCase()}`] as const)}
          change={setAssignee}
        />
        {lookAgain === undefined ? (
          <button type="button" className="plain link" onClick={() => setLookAgain(isoDay(now, 3))}>
            Look at it again on a day
          </button>
        ) : (
          <span>
            looked at again on <DayPart label="Looked at again on" value={lookAgain} now={now} change={setLookAgain} />{' '}
            <button type="button" className="plain link" onClick={() => setLookAgain(undefined)}>
              no day
            </button>
          </span>
        )}
      </div>
    </Form>
  );
}
