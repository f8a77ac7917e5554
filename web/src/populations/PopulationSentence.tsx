import { Input, Select } from 'antd';
import { useEffect, useRef } from 'react';
import type { Schemas } from '../api/client';
import { NumberField } from '../frame/NumberField';
import { TextPart } from '../frame/TextPart';
import { WherePart } from '../frame/WherePart';
import { type Population, type Start, USUAL_LEAST_BATTERY } from './ladder';
import styles from './PopulationSentence.module.css';
import { RuleSentence } from './RuleSentence';
import { StaysAtParts } from './StaysAt';

export const TIERS = ['', 'costliest to lose', 'costly to lose', 'less costly to lose', 'easiest to spare'];

const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')];

/** Offered to choose from; any other can be typed. */
const EXAMPLES = ['mon-fri 08:00-18:00', 'daily 06:00-23:00', 'sun 02:00-05:00', 'sat,sun 00:00-24:00'];

const STARTS = [
  { value: 'by itself', label: 'by itself' },
  { value: 'by person', label: 'by a person until due' },
  { value: 'at shutdown', label: 'at shutdown' },
  { value: 'by operator', label: 'by an operator' },
];

interface Props {
  population: Population;
  traits: Schemas['TraitView'][];
  /** Whose tries its rule may wait for. */
  others: Population[];
  /** Package URLs of the platforms that upgrades are known of. */
  platforms: string[];
  now: Date;
  /** Hosts that are likely to be named. */
  suggested: string[];
  /** The part that the server, or the page, found at fault. */
  fault: string | undefined;
  change: (part: Partial<Population>) => void;
}

/** A population as sentences, their parts to be changed in place. */
export function PopulationSentence({ population: p, traits, others, platforms, now, suggested, fault, change }: Props) {
  const sheet = useRef<HTMLDivElement>(null);
  useEffect(() => {
    sheet.current?.querySelector<HTMLElement>('input')?.focus();
    sheet.current?.scrollIntoView({ block: 'center' });
  }, []);
  const list = (label: string, placeholder: string, known: string[], separators: string[]) => ({
    'aria-label': label,
    mode: 'tags' as const,
    variant: 'borderless' as const,
    className: styles.hosts,
    popupMatchSelectWidth: false,
    placeholder,
    tokenSeparators: separators,
    options: known.map((one) => ({ value: one, label: one })),
  });
  const hosts = (label: string, placeholder: string, value: string[] | undefined, set: (names: string[]) => void) => (
    <Select {...list(label, placeholder, suggested, [',', ' ', '\n', ';'])} value={value ?? []} onChange={set} />
  );
  const hours = (label: string, placeholder: string, value: string[] | undefined, set: (spans: string[]) => void) => (
    <Select {...list(label, placeholder, EXAMPLES, [';', '\n'])} value={value ?? []} onChange={set} />
  );
  return (
    <div className="sentence worded" ref={sheet}>
      <div>
        <Input
          aria-label="Name"
          variant="borderless"
          className={fault === 'name' ? 'fault' : ''}
          style={{ width: `max(120px, ${p.name.length * 0.55 + 1}em)`, fontWeight: 600 }}
          maxLength={60}
          value={p.name}
          onChange={(event) => change({ name: event.target.value })}
        />{' '}
        are the hosts where{' '}
        <WherePart
          label="Condition"
          placeholder="which hosts?"
          value={p.condition}
          traits={traits}
          fault={fault === 'condition'}
          change={(condition) => change({ condition })}
        />
        , and by name also {hosts('Included by name', 'nobody else', p.includes, (includes) => change({ includes }))}, but never{' '}
        {hosts('Excluded by name', 'leaves nobody out', p.excludes, (excludes) => change({ excludes }))}.
      </div>
      <div>
        They are of tier{' '}
        <Select
          aria-label="Tier"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={p.tier}
          options={[1, 2, 3, 4].map((tier) => ({ value: tier, label: `${tier}, ${TIERS[tier]}` }))}
          onChange={(tier) => change({ tier })}
        />
        , answered for by{' '}
        <TextPart
          label="Owner"
          placeholder="nobody named"
          width={110}
          longest={200}
          value={p.owner ?? ''}
          change={(owner) => change({ owner })}
        />
        . Never drawn into a sample: {hosts('Protected hosts', 'nobody is protected', p.protected, (names) => change({ protected: names }))}
        .
      </div>
      <div>
        Their days are those of{' '}
        <Select
          aria-label="Time zone"
          showSearch
          variant="borderless"
          popupMatchSelectWidth={false}
          value={p.timeZone ?? 'UTC'}
          options={ZONES.map((zone) => ({ value: zone, label: zone.replaceAll('_', ' ') }))}
          onChange={(zone) => change({ timeZone: zone === 'UTC' ? undefined : zone })}
        />
        ; they report every{' '}
        <NumberField
          label="Reports every so many hours"
          part
          least={1}
          most={2160}
          placeholder="24"
          width={48}
          value={p.checkInHours}
          change={(checkInHours) => change({ checkInHours })}
        />{' '}
        hours, and take updates from{' '}
        <TextPart
          label="Supply"
          placeholder="anywhere"
          width={170}
          longest={1000}
          value={p.supply ?? ''}
          change={(supply) => change({ supply })}
        />
        .
      </div>
      <div>
        Their busy hours, in which nothing is installed or restarted before it is due:{' '}
        {hours('Busy hours', 'none', p.busyHours, (busyHours) => change({ busyHours }))}; windows, the only hours for it, also past due:{' '}
        {hours('Windows', 'any hour', p.windows, (windows) => change({ windows }))}.
      </div>
      <div>
        What is offered begins{' '}
        <Select
          aria-label="Start"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={p.start ?? 'by itself'}
          options={STARTS}
          onChange={(start) => change({ start: start === 'by itself' ? undefined : (start as Start) })}
        />
        , and restarts{' '}
        <Select
          aria-label="Early restart"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={p.earlyRestart !== false}
          options={[
            { value: true, label: 'as soon as it may' },
            { value: false, label: 'only when it is due' },
          ]}
          onChange={(early) => change({ earlyRestart: early ? undefined : false })}
        />
        . On battery they wait until charged to{' '}
        <NumberField
          label="Charge in per cent that is asked for on battery"
          part
          least={0}
          most={100}
          placeholder={String(USUAL_LEAST_BATTERY)}
          width={40}
          value={p.leastBattery}
          change={(leastBattery) => change({ leastBattery: leastBattery === USUAL_LEAST_BATTERY ? undefined : leastBattery })}
        />{' '}
        %, and over a line paid by what goes over it they{' '}
        <Select
          aria-label="Over a paid line"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={p.overPaidLine === true}
          options={[
            { value: false, label: 'wait' },
            { value: true, label: 'go on' },
          ]}
          onChange={(goesOn) => change({ overPaidLine: goesOn ? true : undefined })}
        />
        , also past due. It falls due at{' '}
        <TextPart
          label="Due hour"
          placeholder="any hour"
          width={64}
          longest={5}
          value={p.dueHour ?? ''}
          change={(dueHour) => change({ dueHour })}
        />
        ; a host that was away has{' '}
        <NumberField
          label="Days for a host that was away"
          part
          least={0}
          most={90}
          placeholder="0"
          width={40}
          value={p.allowanceDays}
          change={(allowanceDays) => change({ allowanceDays })}
        />{' '}
        days after its return.
      </div>
      <StaysAtParts population={p} platforms={platforms} now={now} change={change} />
      <RuleSentence of={p.name} rule={p.rule} others={others} traits={traits} change={(rule) => change({ rule })} />
    </div>
  );
}
