import { Input } from 'antd';
import { useState } from 'react';
import { api, body, type Schemas, undoOf } from '../api/client';
import { useDecision } from '../decisions/useDecision';
import { Row } from '../frame/Boundary';
import { useLastAct } from '../frame/lastAct';
import { day } from '../words/dates';
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
              <span className={styles.words}>{note.words}</span>{' '}
              <span className="mid">
                {note.author}, {day(note.createdAt, now)}
              </span>{' '}
              {analyst && (
                <button
                  type="button"
                  className="plain link mid noprint"
                  onClick={() =>
                    takeBackThese({ words: `the note on ${page.update.id} by ${note.author}.`, undo: undoOf('caseNote', [note.number]) })
                  }
                >
                  Take back
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

/** Changes nothing that is weighed; a case with a note is no longer routine. */
export function CaseNoteDialog({ page, close }: { page: Page; close: () => void }) {
  const [words, setWords] = useState('');
  const note = useDecision({
    version: '',
    draft: { update: page.update.id, words },
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
    </Form>
  );
}
