import { Button } from 'antd';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';

/** A backup while the server runs, and whether the record is whole. */
export function Safekeeping() {
  const verify = useChange(() => body(api.GET('/api/record/verification')));
  const found = verify.data;
  return (
    <section>
      <h2>Safekeeping</h2>
      <p className="mid" style={{ margin: '2px 0 6px' }}>
        A backup holds everything that is stored at this moment; ./lucid restore makes a data folder of it. Each entry of the record is
        sealed with the one before it.
      </p>
      <div className="actions">
        <Button href="/api/backup" download>
          Take a backup
        </Button>
        <Button loading={verify.isPending} onClick={() => verify.mutate(undefined)}>
          Check the record
        </Button>
      </div>
      {verify.error && <p className="fault-line">It could not be checked: {verify.error.message}</p>}
      {found && (
        <p role="status" style={{ overflowWrap: 'anywhere' }}>
          {found.broken === undefined
            ? `The record is whole: ${found.entries.toLocaleString('en-GB')} entries. `
            : `The record is broken at entry ${found.broken}: it does not follow from the ${found.entries} before it. `}
          <span className="mid">Last hash {found.lastHash}</span>
        </p>
      )}
    </section>
  );
}
