import { App, Button, Input, Select } from 'antd';
import { useEffect, useId, useRef, useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { useChange, useMappingPreview, useProductMappings, useUnreadProducts } from '../api/queries';
import { Term } from '../frame/Term';
import { useNow } from '../frame/useNow';
import { useSettled } from '../frame/useSettled';
import { count, day } from '../words/dates';
import styles from './UnreadProducts.module.css';

type Vendor = Schemas['UnreadOfVendor'];
type Draft = Schemas['MappingDraft'];
type How = Draft['how'];

const SHOWN = 8;
const NAMED = 3;

const HOW: { value: How; label: string }[] = [
  { value: 'NAME', label: 'the name' },
  { value: 'PACKAGE', label: 'packages named' },
  { value: 'CPE', label: 'the CPE name' },
];

/** Products of advisories of which nobody can tell which hosts have them, and what persons say they mean. */
export function UnreadProducts({ mayMap, vendor }: { mayMap: boolean; vendor?: string | undefined }) {
  const unread = useUnreadProducts();
  const mappings = useProductMappings();
  const vendors = unread.data ?? [];
  const inUse = mappings.data ?? [];
  if (vendors.length === 0 && inUse.length === 0) {
    return null;
  }
  return (
    <section aria-label="Products not read" className={styles.section}>
      <h2>
        <Term name="products not read">Products not read</Term>
      </h2>
      {vendors.length === 0 && <p className="mid">None: every product of every advisory could be read.</p>}
      {vendors.map((one) => (
        <OfVendor key={one.vendor} of={one} mayMap={mayMap} asked={one.vendor === vendor} />
      ))}
      {inUse.length > 0 && <InUse mappings={inUse} mayMap={mayMap} />}
    </section>
  );
}

function OfVendor({ of, mayMap, asked }: { of: Vendor; mayMap: boolean; asked: boolean }) {
  const [all, setAll] = useState(false);
  const [chosen, setChosen] = useState<Partial<Draft> | undefined>(asked ? {} : undefined);
  const section = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (asked) {
      section.current?.scrollIntoView?.({ block: 'nearest' });
    }
  }, [asked]);
  const shown = all ? of.products : of.products.slice(0, SHOWN);
  const many = of.updates.length;
  const reasons = [...new Set(of.products.map((product) => product.reason))];
  return (
    <div ref={section} className={styles.vendor}>
      <p>
        <span className="strong">{of.vendor === '' ? 'A vendor without a name' : of.vendor}:</span> {count(of.products.length, 'product')}{' '}
        of {many === 1 ? <Case id={of.updates[0] as string} /> : count(many, 'advisory', 'advisories')} could not be read. Nobody knows
        whether hosts here are affected.
        {reasons.length === 1 && ` Of each: ${reasons[0]}.`}
      </p>
      <ul className={styles.names}>
        {shown.map((product) => (
          <li key={product.name}>
            <span className={styles.name}>{product.name}</span>{' '}
            <span className="mid">
              {product.versions.length > 0 &&
                `(${product.versions.length === 1 ? product.versions[0] : `${product.versions.length} versions`}) `}
              {product.cpe !== undefined && `${product.cpe} `}
              {reasons.length > 1 && `${product.reason} `}
              {many > 1 && <Cases ids={product.updates} />}
            </span>{' '}
            {mayMap && (
              <button type="button" className="plain link" onClick={() => setChosen({ how: 'NAME', pattern: product.name })}>
                Say what it is
              </button>
            )}
          </li>
        ))}
      </ul>
      <div className="actions">
        {!all && of.products.length > SHOWN && (
          <Button size="small" onClick={() => setAll(true)}>
            Show all {of.products.length}
          </Button>
        )}
        {mayMap &&
          of.packagesOf.map((product) => (
            <Button key={product} size="small" onClick={() => setChosen({ how: 'PACKAGE', pattern: '*', product })}>
              Read the names as packages: {product}
            </Button>
          ))}
      </div>
      {mayMap && chosen !== undefined && <Wording key={JSON.stringify(chosen)} of={of} start={chosen} close={() => setChosen(undefined)} />}
    </div>
  );
}

function Cases({ ids }: { ids: string[] }) {
  return (
    <>
      in{' '}
      {ids.slice(0, NAMED).map((id, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <Case id={id} />
        </span>
      ))}
      {ids.length > NAMED && ` and ${ids.length - NAMED} more`}
    </>
  );
}

const Case = ({ id }: { id: string }) => <Link to={`/cases/${encodeURIComponent(id)}`}>{id}</Link>;

/** The mapping as a sentence, with what each advisory would say by it. */
function Wording({ of, start, close }: { of: Vendor; start: Partial<Draft>; close: () => void }) {
  const { message } = App.useApp();
  const [how, setHow] = useState<How>(start.how ?? 'NAME');
  const [pattern, setPattern] = useState(start.pattern ?? of.products[0]?.name ?? '');
  const [product, setProduct] = useState(start.product ?? '');
  const field = useRef<HTMLElement>(null);
  const heading = useId();
  useEffect(() => {
    field.current?.querySelector<HTMLInputElement>('input[data-purl]')?.focus();
  }, []);
  const draft: Draft = { vendor: of.vendor, how, pattern, ...(product.trim() === '' ? {} : { product }) };
  const settled: Draft = JSON.parse(useSettled(JSON.stringify(draft), 300));
  const preview = useMappingPreview(settled, pattern.trim() !== '' && product.trim() !== '');
  const use = useChange((mapping: Draft) => body(api.POST('/api/product-mappings', { body: mapping })), 'Not used');
  const say = (mapping: Draft) =>
    use.mutate(mapping, {
      onSuccess: () => {
        message.info(
          mapping.product === undefined
            ? `${pattern} is taken to be on no host here.`
            : `${pattern} is read as ${mapping.product} from now on, also in what came before.`,
        );
        close();
      },
    });
  const read = preview.data?.filter((one) => one.products.length > 0) ?? [];
  const candidates = of.products.find((one) => one.name === pattern)?.candidates ?? [];
  const refused = preview.error?.message;
  return (
    <section ref={field} className={`judging ${styles.wording}`} aria-labelledby={heading}>
      <div id={heading} className={styles.sentence}>
        In documents of <strong>{of.vendor}</strong>,{' '}
        <Select aria-label="Known by" size="small" value={how} options={HOW} onChange={setHow} popupMatchSelectWidth={false} />{' '}
        <Input aria-label="Name, * for any text" className={styles.pattern} value={pattern} onChange={(e) => setPattern(e.target.value)} />{' '}
        {how === 'PACKAGE' ? 'mean' : 'means'}{' '}
        <Input
          data-purl
          aria-label="Package URL"
          className={styles.product}
          placeholder={how === 'PACKAGE' ? 'pkg:rpm/tarn/*' : 'pkg:generic/name'}
          value={product}
          onChange={(e) => setProduct(e.target.value)}
          onPressEnter={() => read.length > 0 && say(draft)}
        />
      </div>
      {how === 'NAME' && candidates.length > 0 && product.trim() === '' && (
        <p>
          Hosts report{' '}
          {candidates.map((candidate) => (
            <button key={candidate} type="button" className="plain link" onClick={() => setProduct(candidate)}>
              {candidate}
            </button>
          ))}
        </p>
      )}
      {product.trim() === '' && (
        <p className="mid">The package URL that hosts report for it, without a version; it shows here what is read by it.</p>
      )}
      {refused !== undefined && product.trim() !== '' && <p role="alert">{refused}</p>}
      {refused === undefined && preview.data !== undefined && product.trim() !== '' && (
        <ul className={styles.preview} aria-label="What is read by it">
          {preview.data.length === 0 && <li>Nothing: no product of these documents has that name.</li>}
          {preview.data.map((one) => (
            <li key={one.update}>
              <Case id={one.update} /> {one.title}: {one.products.join(', ')};{' '}
              <strong>
                {count(one.lacking, 'host')} {one.lacking === 1 ? 'lacks' : 'lack'} it
              </strong>
              , {one.having} {one.having === 1 ? 'has' : 'have'} it
              {one.unread > 0 && `; ${count(one.unread, 'product')} still not read`}
            </li>
          ))}
        </ul>
      )}
      <div className="actions">
        <Button type="primary" loading={use.isPending} disabled={read.length === 0 || refused !== undefined} onClick={() => say(draft)}>
          {read.length === 0 ? 'Use it' : `Use it for ${count(read.length, 'advisory', 'advisories')}`}
        </Button>
        <Button loading={use.isPending} onClick={() => say({ vendor: of.vendor, how, pattern })}>
          No host here has it
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </section>
  );
}

function InUse({ mappings, mayMap }: { mappings: Schemas['MappingView'][]; mayMap: boolean }) {
  const now = useNow();
  const revoke = useChange(
    (number: number) => api.DELETE('/api/product-mappings/{number}', { params: { path: { number } } }),
    'Not removed',
  );
  return (
    <details className={styles.inUse}>
      <summary>{count(mappings.length, 'mapping')} of product names in use</summary>
      <ul className={styles.names}>
        {mappings.map((mapping) => (
          <li key={mapping.number}>
            {mapping.vendor}: <span className={styles.name}>{mapping.pattern}</span>{' '}
            {mapping.product === undefined ? 'is on no host here' : `means ${mapping.product}`}{' '}
            <span className="mid">
              {mapping.author}, {day(mapping.createdAt, now)}
            </span>{' '}
            {mayMap && (
              <button type="button" className="plain link" onClick={() => revoke.mutate(mapping.number)}>
                Remove
              </button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
