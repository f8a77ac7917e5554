import { Input, Popover, Select } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { clauseIn, movedIn, moving } from '../decisions/clauses';
import type { VerdictType, Worded } from '../decisions/useVerdictDraft';
import { useEscapeCloses } from '../frame/keys';
import { NumberField } from '../frame/NumberField';
import { Term } from '../frame/Term';
import { count, lastDay } from '../words/dates';
import { names } from '../words/sentences';
import styles from './DeliveryParts.module.css';

const number = (value: number | undefined) => (value === undefined ? undefined : String(value));

const WAYS = [
  { value: 'once', label: 'on all at once' },
  { value: 'parts', label: 'in parts' },
  { value: 'operator', label: 'by operator' },
  { value: 'parts operator', label: 'by operator, in parts' },
];

/** ", by operator, in parts: 3 parts, 2 days apart": how what is offered reaches its hosts. */
export function DeliveryParts({ search, set }: Worded) {
  const parts = search.get('parts') ?? undefined;
  const operator = search.get('who') === 'operator';
  const choose = (way: string) =>
    set({
      parts: way.includes('parts') ? (parts ?? '3') : undefined,
      apart: way.includes('parts') ? (search.get('apart') ?? undefined) : undefined,
      move: undefined,
      who: way.includes('operator') ? 'operator' : undefined,
      ...(way.includes('operator') ? {} : { steps: undefined, order: undefined }),
    });
  return (
    <>
      ,{' '}
      <Select
        aria-label="How it reaches them"
        variant="borderless"
        popupMatchSelectWidth={false}
        value={[parts !== undefined && 'parts', operator && 'operator'].filter(Boolean).join(' ') || 'once'}
        options={WAYS}
        onChange={choose}
      />
      {parts !== undefined && (
        <>
          :{' '}
          <NumberField
            part
            label="In how many parts"
            least={1}
            most={30}
            width={36}
            value={Number(parts)}
            change={(value) => set({ parts: number(value), move: undefined })}
          />
          ,{' '}
          <NumberField
            part
            label="Days between two parts"
            least={1}
            most={60}
            width={36}
            placeholder="1"
            value={search.has('apart') ? Number(search.get('apart')) : undefined}
            change={(value) => set({ apart: number(value) })}
          />{' '}
          <Term name="spread">days apart</Term>
        </>
      )}
    </>
  );
}

/** ", where it is they keep it": what becomes of hosts that carry what is blocked. */
export function RemovalPart({ search, set }: Worded) {
  return (
    <>
      , hosts that carry it{' '}
      <Select
        aria-label="Hosts that carry it"
        variant="borderless"
        popupMatchSelectWidth={false}
        value={search.get('remove') === 'yes' ? 'yes' : 'no'}
        options={[
          { value: 'no', label: 'keep it' },
          { value: 'yes', label: 'remove it' },
        ]}
        onChange={(remove) => set({ remove: remove === 'yes' ? remove : undefined })}
      />
    </>
  );
}

/** What whoever runs the hosts is told. */
export function OperatorParts({ search, set }: Worded) {
  return search.get('who') !== 'operator' ? null : (
    <div className={styles.operator}>
      <Input.TextArea
        aria-label="Checklist for whoever runs them, one step each line"
        placeholder="What is to be done, one step each line (may stay empty)"
        autoSize={{ minRows: 1, maxRows: 5 }}
        maxLength={4000}
        value={search.get('steps') ?? ''}
        onChange={(event) => set({ steps: event.target.value || undefined })}
      />
      <Input
        aria-label="Order of the hosts"
        placeholder="Hosts in their order, with commas (may stay empty)"
        value={search.get('order') ?? ''}
        onChange={(event) => set({ order: event.target.value || undefined })}
      />
    </div>
  );
}

/** The hosts of each part, which can be moved to another. */
export function Parts({ worded, search, set, page, now, type }: Worded & { worded: Schemas['WordedView'][]; type: VerdictType }) {
  const several = worded.length > 1;
  const moved = movedIn(clauseIn(search));
  return (
    <>
      {worded
        .filter((one) => one.parts.length > 0)
        .map((one) => {
          const zone = page.populations.find((row) => row.id === one.population)?.timeZone ?? 'Z';
          return (
            <ol key={one.population} className={styles.parts} aria-label={`Parts of ${one.populationName}`}>
              {one.parts.map((part, place) => (
                <li key={part.at}>
                  {several && place === 0 && <span className="serif strong">{one.populationName}: </span>}
                  {new Date(part.at) <= now ? 'now' : `${type === 'FORCE' ? 'due by the end of' : 'after'} ${lastDay(part.at, now, zone)}`}:{' '}
                  <span className="strong">{count(part.hosts.count, 'host')}</span>{' '}
                  {part.hosts.count > 0 && <Move part={part} place={place} of={one.parts.length} search={search} set={set} />}
                </li>
              ))}
            </ol>
          );
        })}
      {moved.length > 0 && (
        <button type="button" className="plain link" onClick={() => set({ move: undefined })}>
          Put {count(moved.length, 'host')} back that you moved
        </button>
      )}
    </>
  );
}

function Move({ part, place, of, search, set }: Pick<Worded, 'search' | 'set'> & { part: Schemas['PartView']; place: number; of: number }) {
  const [open, setOpen] = useState(false);
  useEscapeCloses(open, () => setOpen(false));
  const hosts = (
    <div className={styles.hosts}>
      <table className="list" aria-label={`Hosts of part ${place + 1}`}>
        <tbody>
          {part.hosts.names.map((host) => (
            <tr key={host}>
              <td>{host}</td>
              <td>
                {Array.from({ length: of }, (_, to) => to)
                  .filter((to) => to !== place)
                  .map((to) => (
                    <button
                      key={to}
                      type="button"
                      className="plain link"
                      aria-label={`to part ${to + 1}: ${host}`}
                      onClick={() => set(moving(clauseIn(search), host, to + 1))}
                    >
                      to part {to + 1}
                    </button>
                  ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomLeft" open={open} onOpenChange={setOpen} content={hosts}>
      <button type="button" className="plain link mid" aria-label={`${names(part.hosts, 1)}: move some of part ${place + 1}`}>
        {names(part.hosts, 1)}
      </button>
    </Popover>
  );
}
