import { useQuery } from '@tanstack/react-query';
import { App, AutoComplete, Button, Modal } from 'antd';
import { useState } from 'react';
import { previewTable, sendFiles } from '../api/client';
import { useChange } from '../api/queries';
import { useSettled } from '../frame/useSettled';
import { count } from '../words/dates';
import styles from './HostTableDialog.module.css';

const USES = ['host', 'platform', 'supply', 'reported at', 'trait ', 'product pkg:', ''].map((value) => ({
  value,
  label:
    value === ''
      ? 'leave it out'
      : value === 'trait '
        ? 'trait NAME'
        : value === 'product pkg:'
          ? 'product PURL (the cell is its version)'
          : value,
}));

const TYPES = { TEXT: 'text', NUMBER: 'numbers', TRUTH: 'true or false' } as const;

/** A table of hosts before it is taken: what each column is, the first rows, and what is wrong with which. */
export function HostTableDialog({ file, close }: { file: File; close: () => void }) {
  const [columns, setColumns] = useState<Record<string, string>>({});
  const asked = useSettled(JSON.stringify(columns));
  const { message } = App.useApp();
  const preview = useQuery({
    queryKey: ['table', file.name, file.size, file.lastModified, asked],
    queryFn: () => previewTable(file, JSON.parse(asked)),
    placeholderData: (before) => before,
  });
  const take = useChange(() => sendFiles([file], { columns }));
  const seen = preview.data;
  const headings = Object.keys(seen?.used ?? {});
  const settled = asked === JSON.stringify(columns) && !preview.isPlaceholderData;
  const submit = () =>
    take.mutate(undefined, {
      onSuccess: ([result]) => {
        message.info(result?.outcome === 'REJECTED' ? 'The table was refused: see why below.' : `The table was read: ${result?.subject}.`);
        close();
      },
    });
  return (
    <Modal open title={`Table of hosts: ${file.name}`} width={1080} onCancel={close} footer={null}>
      {preview.isError && (
        <p className="fault-line" role="alert">
          It cannot be read: {preview.error.message}
        </p>
      )}
      {seen && (
        <>
          <p>
            {seen.wholeReports
              ? 'Each row is a report of its host: platform and products are told.'
              : 'Each row adds traits to its host. What a host itself reports counts before them; hosts that have not reported yet get them as soon as they do.'}
          </p>
          <div className={styles.scroll}>
            <table className="list" aria-label="Columns and first rows">
              <thead>
                <tr>
                  {headings.map((heading) => (
                    <th scope="col" key={heading}>
                      <span className="strong">{heading}</span>
                      <AutoComplete
                        aria-label={`What the column ${heading} is`}
                        className={styles.column}
                        popupMatchSelectWidth={260}
                        value={columns[heading] ?? seen.used[heading]}
                        options={USES}
                        onChange={(use: string) => setColumns((before) => ({ ...before, [heading]: use }))}
                      />
                      <span className="mid">
                        {(columns[heading] ?? seen.used[heading]) === ''
                          ? 'left out'
                          : seen.types[heading] !== undefined && TYPES[seen.types[heading] as keyof typeof TYPES]}
                      </span>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {seen.firstRows.slice(0, 6).map((row, index) => (
                  <tr key={index}>
                    {row.map((cell, column) => (
                      <td key={column}>{cell}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {seen.problems.length > 0 && (
            <>
              <p className={`strong ${styles.lead}`}>
                {seen.hosts === 0 ? 'It cannot be taken so:' : `${count(seen.problems.length, 'row')} would be left out:`}
              </p>
              <ul className={`problems ${styles.few}`} aria-label="What is wrong">
                {seen.problems.map((problem) => (
                  <li key={`${problem.place} ${problem.reason}`}>
                    <code>{problem.place}</code> {problem.reason}
                  </li>
                ))}
              </ul>
            </>
          )}
          <div className="actions">
            <Button type="primary" disabled={!settled || seen.hosts === 0} loading={take.isPending} onClick={submit}>
              Take {count(seen.hosts, 'host')} of {count(seen.rows, 'row')}
            </Button>
            <Button onClick={close}>Cancel</Button>
            {take.error && <span className="fault-line">Not taken: {take.error.message}</span>}
          </div>
        </>
      )}
    </Modal>
  );
}
