export function Loading({ what }: { what: string }) {
  return (
    <p className="loading" role="status">
      Reading {what} …
    </p>
  );
}

/** What happened, what was kept, what to do. */
export function Failed({ what, error, again }: { what: string; error: unknown; again: () => void }) {
  return (
    <div className="empty" role="alert">
      <strong>{what} could not be read.</strong>
      {error instanceof Error ? error.message : 'The server did not answer.'} Nothing was changed.{' '}
      <button type="button" className="plain link" onClick={again}>
        Read it again
      </button>
    </div>
  );
}
