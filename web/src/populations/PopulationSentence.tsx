import { Input, Select } from 'antd';
import { useEffect, useRef } from 'react';
import type { Schemas } from '../api/client';
import { TextPart } from '../case/TextPart';
import { WherePart } from '../case/WherePart';
import { NumberField } from '../frame/NumberField';
import type { Population } from './ladder';
import styles from './PopulationSentence.module.css';
import { RuleSentence } from './RuleSentence';

export const TIERS = ['', 'costliest to lose', 'costly to lose', 'less costly to lose', 'easiest to spare'];

const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')];

interface Props {
  population: Population;
  traits: Schemas['TraitView'][];
  /** Hosts that are likely to be named. */
  suggested: string[];
  /** The part that the server, or the page, found at fault. */
  fault: string | undefined;
  change: (part: Partial<Population>) => void;
}

/** A population as sentences, their parts to be changed in place. */
export function PopulationSentence({ population: p, traits, suggested, fault, change }: Props) {
  const sheet = useRef<HTMLDivElement>(null);
  useEffect(() => {
    sheet.current?.querySelector<HTMLElement>('input')?.focus();
    sheet.current?.scrollIntoView({ block: 'center' });
  }, []);
  const hosts = (label: string, placeholder: string, value: string[] | undefined, set: (names: string[]) => void) => (
    <Select
      aria-label={label}
      mode="tags"
      variant="borderless"
      className={styles.hosts}
      popupMatchSelectWidth={false}
      placeholder={placeholder}
      tokenSeparators={[',', ' ', '\n', ';']}
      value={value ?? []}
      options={suggested.map((name) => ({ value: name, label: name }))}
      onChange={set}
    />
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
      <RuleSentence of={p.name} rule={p.rule} change={(rule) => change({ rule })} />
    </div>
  );
}
