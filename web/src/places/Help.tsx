import { Switch } from 'antd';
import { useEffect } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { useSession } from '../api/queries';
import { Heading } from '../frame/Heading';
import { setLettersOff, useKeys, useLettersOff } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { placesOf } from '../frame/placesOf';
import { decoded } from '../frame/useNamed';
import { Beam } from '../look/Beam';
import { Mark } from '../look/Mark';
import type { MarkName } from '../words/sentences';
import { anchorOf, TERMS, type TermName } from '../words/terms';
import styles from './Help.module.css';

const KEYS: { where: string; keys: [string, string][] }[] = [
  {
    where: 'Everywhere',
    keys: [
      ['/', 'search everything'],
      ['?', 'this page'],
      ['.', 'stop everything, or freeze some populations'],
      ['U', 'take the last one back'],
      ['Ctrl Enter', 'hand down what is worded'],
      ['Escape', 'close what is worded, then go back'],
    ],
  },
  {
    where: 'Docket',
    keys: [
      ['↑ ↓ Home End', 'move'],
      ['Enter', 'open the case'],
      ['B D P F', 'begin to block, defer, pilot or force'],
      ['N', 'narrow a block to the first suspected cause'],
      ['L', 'leave to the rule'],
      ['Space', 'choose several, to be answered or decided at once'],
      ['R', 'open the routine cases and choose them all'],
    ],
  },
  {
    where: 'Several cases at once',
    keys: [
      ['↑ ↓ Enter', 'move, open the case'],
      ['X', 'leave the case out'],
      ['Ctrl Enter', 'decide all of them'],
      ['Escape', 'back to the docket'],
    ],
  },
  {
    where: 'Case',
    keys: [
      ['↑ ↓', 'move among the populations'],
      ['Space', 'choose several'],
      ['Enter', 'show the hosts'],
      ['→ ←', 'populations with the same answer: show separately, or together'],
      ['B D P F E', 'begin to block, defer, pilot, force or except'],
      ['A', 'word what is suggested, to be looked at and changed'],
      ['Ctrl ,', 'one more answer in the same sentence, for the other populations'],
      ['L', 'leave to the rule'],
      ['N', 'narrow a block to the suspected cause'],
      ['2 to 9', 'narrow it to one that cannot be told apart from it'],
      ['W', 'show what the weighing is made of'],
      ['T', 'report a failure'],
      ['M', 'write a note on the case, for somebody or for a day'],
      ['[ and ]', 'the case before, the next case'],
    ],
  },
  {
    where: 'In force',
    keys: [
      ['C', 'as a calendar, or as a list'],
      ['← → ↑ ↓', 'move on the calendar'],
      ['E', 'on the calendar: word anew what ends there, to end on another day'],
    ],
  },
  {
    where: 'Exceptions',
    keys: [
      ['↑ ↓ Enter', 'move, open the case'],
      ['Space', 'choose several'],
      ['O', 'choose all of this owner'],
      ['R', 'renew what is chosen, with one reason'],
      ['X', 'end it now'],
      ['H', 'hand over all that its owner answers for'],
      ['U', 'take the last back'],
      ['/', 'search'],
    ],
  },
  {
    where: 'Hosts',
    keys: [
      ['↑ ↓', 'move'],
      ['Enter', 'open the host'],
      ['Space', 'choose'],
      ['A', 'ask those that are chosen, or this one, to report now'],
      ['E', 'of those that lack an update: except the chosen ones from it'],
    ],
  },
  {
    where: 'Carriers',
    keys: [
      ['F', 'what is in force, or the state on hosts'],
      ['[ ]', 'a day earlier, a day later'],
      ['S', 'find an update'],
      ['X', 'take all filters off'],
    ],
  },
  {
    where: 'Record',
    keys: [
      ['S', 'search the record'],
      ['C', 'by case, or by day'],
    ],
  },
  {
    where: 'Carriers of one update',
    keys: [
      ['[ ]', 'a day earlier, a day later'],
      ['D', 'compare with an earlier day'],
      ['T', 'report a failure'],
      ['Escape', 'back'],
    ],
  },
  {
    where: 'By operator, or what is for you to install',
    keys: [
      ['↑ ↓', 'move'],
      ['Enter', 'open the host'],
      ['Space', 'choose'],
      ['S', 'agree a slot on the chosen hosts, or on all'],
      ['D', 'say that it is done on them'],
      ['U', 'take the last back'],
      ['X', 'of all updates again'],
    ],
  },
  {
    where: 'Pilots',
    keys: [
      ['↑ ↓ Enter', 'move, open the pilot'],
      ['X', 'extend the sample of a pilot'],
      ['L', 'word what lets the update go to the others'],
      ['B', 'word a block for them'],
      ['C', 'open its case'],
    ],
  },
];

const MARKS: [MarkName, string][] = [
  ['BLOCK', 'blocked: before a solid gate'],
  ['DEFER', 'deferred: before a dashed gate'],
  ['PILOT', 'a pilot: before an open gate, a small one already through'],
  ['FORCE', 'forced: past the gate, with the line it came by'],
  ['EXCEPTION', 'an exception holds'],
  ['FREEZE', 'frozen: between two gates'],
  ['RULE_WAITS', 'the standing rule withholds it'],
  ['RULE', 'the standing rule offers it'],
];

/** What our words, marks and keys mean. Each term has an address of its own. */
export default function Help() {
  const { hash } = useLocation();
  const navigate = useNavigate();
  const off = useLettersOff();
  const role = useSession().data?.role;
  const named = decoded(hash.slice(1));
  useEffect(() => {
    const term = named === '' ? null : document.getElementById(named);
    term?.scrollIntoView({ block: 'center' });
    term?.focus({ preventScroll: true });
  }, [named]);
  useKeys({ Escape: () => navigate(-1) });
  return (
    <main className={styles.help}>
      <div className="head">
        <Heading>Help</Heading>
        <span className="mid">What our words mean, and every key.</span>
      </div>
      <div className={styles.columns}>
        <section aria-labelledby="terms">
          <h2 id="terms">Terms</h2>
          <dl className={styles.terms}>
            {(Object.keys(TERMS) as TermName[]).sort().map((name) => (
              <div key={name} id={anchorOf(name)} tabIndex={-1} className={anchorOf(name) === named ? styles.named : undefined}>
                <dt>{name}</dt>
                <dd>{TERMS[name]}</dd>
              </div>
            ))}
          </dl>
        </section>
        <section aria-labelledby="keys">
          <h2 id="beams">The beam</h2>
          <Beam exposure={6} hazard={{ low: 3, middle: 20, high: 40 }} usual={5} tilt={{ low: -1.3, middle: -0.6, high: 1.3 }} />
          <p>
            What installing costs hangs at the left, what waiting costs at the right; the heavier side sinks. A disc is larger the more
            points it stands for. Its hollow rim is what an update of this kind usually costs, which is owed on both sides. The grey wedge
            is how far the beam may turn with what is known, at 90 %; it turns no further than to its stop (a tilt of 5, said as “cut”). An
            asterisk beside a number of hosts says that something else holds for some of them.
          </p>
          <h2>Marks</h2>
          <dl className={styles.pairs}>
            {MARKS.map(([mark, words]) => (
              <div key={mark}>
                <dt>
                  <Mark name={mark} />
                </dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
          <h2 id="keys">Keys</h2>
          <p>
            <Switch aria-label="Single letters act" size="small" checked={!off} onChange={(on) => setLettersOff(!on)} /> Single letters act
            while nothing is being typed
          </p>
          <h3>Places: G, then</h3>
          <dl className={styles.pairs}>
            {placesOf(role).map((place) => (
              <div key={place.to}>
                <dt>
                  <kbd>G</kbd> <kbd>{place.key.toUpperCase()}</kbd>
                </dt>
                <dd>{place.name}</dd>
              </div>
            ))}
          </dl>
          {KEYS.map(({ where, keys }) => (
            <div key={where}>
              <h3>{where}</h3>
              <dl className={styles.pairs}>
                {keys.map(([key, words]) => (
                  <div key={key}>
                    <dt>
                      <kbd>{key}</kbd>
                    </dt>
                    <dd>{words}</dd>
                  </div>
                ))}
              </dl>
            </div>
          ))}
        </section>
      </div>
      <Legend>
        <Key name="Escape">back</Key>
      </Legend>
    </main>
  );
}
