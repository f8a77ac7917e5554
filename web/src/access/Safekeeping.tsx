import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import { Failed } from '../frame/Loading';
import { NumberField } from '../frame/NumberField';
import { useNow } from '../frame/useNow';
import { count, dayTime } from '../words/dates';
import styles from './access.module.css';

/** A backup while the server runs, and whether the record is whole. */
export function Safekeeping() {
  const verify = useChange(() => body(api.GET('/api/record/verification')));
  const found = verify.data;
  return (
    <section>
      <h2>Safekeeping</h2>
      <p className={`mid ${styles.lead}`}>
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
      <BackupSchedule />
      {verify.error && <p className="fault-line">It could not be checked: {verify.error.message}</p>}
      {found && (
        <p role="status" className={styles.anywhere}>
          {found.broken === undefined
            ? `The record is whole: ${found.entries.toLocaleString('en-GB')} entries. `
            : `The record is broken at entry ${found.broken}: it does not follow from the ${found.entries} before it. `}
          <span className="mid">Last hash {found.lastHash}</span>
        </p>
      )}
    </section>
  );
}

/** Backups that are taken by themselves, and checked. */
function BackupSchedule() {
  const now = useNow();
  const schedule = useQuery({ queryKey: ['backup schedule'], queryFn: () => body(api.GET('/api/backup-schedule')) });
  const [everyHours, setEvery] = useState<number>();
  const [kept, setKept] = useState<number>();
  const change = useChange(() =>
    body(
      api.PUT('/api/backup-schedule', {
        body: { everyHours: everyHours ?? schedule.data?.everyHours ?? 0, kept: kept ?? schedule.data?.kept ?? 3 },
      }),
    ),
  );
  const known = schedule.data;
  if (known === undefined) {
    return schedule.isLoadingError ? <Failed what="The schedule of backups" error={schedule.error} again={schedule.refetch} /> : null;
  }
  const newest = known.backups[0];
  return (
    <>
      <p className="actions">
        <span>By itself every</span>
        <NumberField
          label="Hours between backups"
          least={0}
          most={744}
          width={90}
          value={everyHours ?? known.everyHours}
          change={setEvery}
        />
        <span>hours (0: never), keeping</span>
        <NumberField label="Backups that are kept" least={1} most={100} width={90} value={kept ?? known.kept} change={setKept} />
        <Button
          loading={change.isPending}
          disabled={everyHours === undefined && kept === undefined}
          onClick={() => change.mutate(undefined)}
        >
          Save
        </Button>
      </p>
      {change.error && (
        <p className="fault-line" role="alert">
          Not saved: {change.error.message}
        </p>
      )}
      <p className="mid">
        {newest === undefined
          ? 'None has been taken by itself yet.'
          : `${count(known.backups.length, 'backup')} in ${known.folder}, the newest of ${dayTime(newest.taken, now)}, opened again and found whole.`}
      </p>
      {known.failure !== undefined && (
        <p className="fault-line" role="alert">
          The one of {known.failed === undefined ? 'late' : dayTime(known.failed, now)} failed: {known.failure}
        </p>
      )}
    </>
  );
}
