import { Checkbox, Popover, Select } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import type { Worded } from '../decisions/useVerdictDraft';
import { HostNames } from '../frame/HostNames';
import { useEscapeCloses } from '../frame/keys';
import { NumberField } from '../frame/NumberField';
import { Term } from '../frame/Term';
import { count } from '../words/dates';
import { kindWords, LEFT_OUT, percent } from '../words/pilots';
import styles from './PilotParts.module.css';

type Drawn = Schemas['DrawnView'] | undefined;

interface Props extends Worded {
  pilot: Drawn;
}

const text = (value: number | undefined) => (value === undefined ? undefined : String(value));

/** "on 58 hosts of": how many try it. */
export function PilotSize({ pilot, search, set }: Props) {
  return (
    <>
      on{' '}
      <NumberField
        part
        label="How many hosts try it"
        width={48}
        least={1}
        most={2000}
        value={search.has('size') ? Number(search.get('size')) : pilot?.sample.length}
        change={(size) => set({ size: text(size) })}
      />{' '}
      hosts of
    </>
  );
}

/** "each 3 days without failure, at most 5 % failing, signed off by nobody": what they must show. */
export function PilotTerms({ pilot, search, set }: Props) {
  return (
    <>
      each{' '}
      <NumberField
        part
        label="Days that a host must have it without failure"
        width={36}
        least={0}
        most={60}
        value={search.has('soak') ? Number(search.get('soak')) : (pilot?.soakDays ?? 3)}
        change={(days) => set({ soak: text(days) })}
      />{' '}
      days without failure, at most{' '}
      <NumberField
        part
        label="Highest failure rate in per cent"
        width={40}
        least={0.1}
        most={50}
        whole={false}
        value={search.has('limit') ? Number(search.get('limit')) : 100 * (pilot?.gate.askedLimit ?? 0.05)}
        change={(rate) => set({ limit: text(rate) })}
      />{' '}
      % failing, signed off by{' '}
      <Select
        aria-label="Departments that sign it off"
        mode="tags"
        variant="borderless"
        className={styles.departments}
        popupMatchSelectWidth={false}
        placeholder="nobody else"
        value={search.get('signed')?.split(',').filter(Boolean) ?? []}
        onChange={(value: string[]) => set({ signed: value.join(',') || undefined })}
        tokenSeparators={[',']}
        options={[]}
        notFoundContent="write a department and press Enter"
      />
    </>
  );
}

const ONCE_MET = [
  { value: 'ASK', label: 'ask me' },
  { value: 'LET_GO', label: 'let it go' },
  { value: 'FORCE', label: 'force it' },
];

/** "; if it is met, force it within 3 days": what follows by itself. */
export function PilotOnceMet({ search, set }: Worded) {
  const met = search.get('met') ?? 'ASK';
  return (
    <>
      ; once it is <Term name="gate">met</Term>,{' '}
      <Select
        aria-label="Once it is met"
        variant="borderless"
        popupMatchSelectWidth={false}
        value={met}
        options={ONCE_MET}
        onChange={(value) => set({ met: value === 'ASK' ? undefined : value, within: undefined })}
      />
      {met === 'FORCE' && (
        <>
          {' '}
          within{' '}
          <NumberField
            part
            label="Days until it is due then"
            width={36}
            least={1}
            most={90}
            placeholder="3"
            value={search.has('within') ? Number(search.get('within')) : undefined}
            change={(days) => set({ within: text(days) })}
          />{' '}
          days
        </>
      )}
    </>
  );
}

/** Who would try it, whom they stand for, and what they can show. */
export function DrawnSample({ pilot, search, set }: Props & { pilot: NonNullable<Drawn> }) {
  const { gate, coverage } = pilot;
  const [open, setOpen] = useState(false);
  useEscapeCloses(open, () => setOpen(false));
  const without = search.get('not')?.split(',').filter(Boolean) ?? [];
  const drawn = (
    <div className={styles.sample}>
      <table className="list" aria-label="Hosts that would try it">
        <tbody>
          {pilot.sample.map((host) => (
            <tr key={host.name}>
              <td>{host.name}</td>
              <td className="mid">{host.words}</td>
              <td>
                <button type="button" className="plain link" onClick={() => set({ not: [...without, host.name].join(',') })}>
                  draw another
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
  const tier1 = pilot.leftOut.some((one) => one.why === 'TIER_1') || search.get('tier1') === 'yes';
  return (
    <div className="consequence">
      <div>
        <Popover trigger="click" placement="bottomLeft" open={open} onOpenChange={setOpen} content={drawn}>
          <button type="button" className="plain link">
            {count(pilot.sample.length, 'host')}
          </button>
        </Popover>{' '}
        <Term name="sample">stand for</Term> {coverage.covered} of {count(coverage.kinds, 'kind')} of {kindWords(coverage.traits)}
        {coverage.uncovered.length > 0 && (
          <span className="mid">
            ; not covered:{' '}
            {coverage.uncovered
              .slice(0, 3)
              .map((kind) => `${kind.words} (${kind.hosts})`)
              .join(', ')}
            {coverage.uncovered.length > 3 && ` and ${coverage.uncovered.length - 3} more`}
          </span>
        )}
      </div>
      <div>
        {count(gate.hosts, 'clean host')} can <Term name="gate">show</Term> at best a failure rate of{' '}
        <span className="strong">{percent(gate.limit)}</span>
        {gate.limit > gate.askedLimit && (
          <>
            ; for {percent(gate.askedLimit)} take{' '}
            {gate.hostsForAskedLimit <= pilot.sample.length + pilot.others ? (
              <button type="button" className="plain link" onClick={() => set({ size: String(gate.hostsForAskedLimit), not: undefined })}>
                {gate.hostsForAskedLimit}
              </button>
            ) : (
              `${gate.hostsForAskedLimit}, more than can try it`
            )}
          </>
        )}
        <span className="mid">
          . An update that fails in {percent(gate.limit)} would pass {Math.round(100 * gate.passesAtLimit)} times in 100, one that fails in
          1 % {Math.round(100 * gate.passesAtOnePercent)} times.
        </span>
      </div>
      {pilot.leftOut.map((one) => (
        <div key={one.why} className="mid">
          {count(one.hosts.count, 'host')} not drawn: {LEFT_OUT[one.why]} <HostNames hosts={one.hosts} />
        </div>
      ))}
      {tier1 && (
        <Checkbox checked={search.get('tier1') === 'yes'} onChange={(e) => set({ tier1: e.target.checked ? 'yes' : undefined })}>
          Also hosts of tier 1, which are costliest to lose
        </Checkbox>
      )}
      {without.length > 0 && (
        <button type="button" className="plain link" onClick={() => set({ not: undefined })}>
          Draw {count(without.length, 'host')} again that you left out
        </button>
      )}
    </div>
  );
}
