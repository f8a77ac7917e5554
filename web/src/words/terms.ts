/** Our own terms, each in one line of help. */
export const TERMS = {
  'why now': 'A cue: one fact that makes a case need judgement. It goes when a verdict or an answer is given.',
  exposure:
    'Exposure of waiting: over the hosts that lack it, what a host costs × how open it is × how likely a vulnerability is exploited and how bad it is. One point is one tier-4 host lost.',
  hazard:
    'Hazard of installing: over the hosts that lack it, what a host costs × the larger of failure rate × harm and known issue × harm. One point is one tier-4 host lost.',
  order:
    'The docket is ordered by what judgement is worth now: what waiting costs, or what installing costs beyond the usual, whichever is larger, plus 1; times 4 while a cue is younger than a day, times 2 while younger than three days. Fixes of the same vulnerability stand together.',
  suggestion: 'What the numbers speak for; never done by itself.',
  'flip point': 'The first value of one input that changes the suggestion, found by weighing anew.',
  'suspected cause':
    'A condition that failing hosts share and others do not, by a one-sided exact test, adjusted for all the tests that were made. Chance, not proof.',
  'cannot be told apart':
    'Conditions that nearly the same hosts meet and that are nearly as improbable by chance. The counts cannot say which of them is the cause; what you know of these hosts can. Of a number the narrowest and the widest cut are listed; of two conditions together, one alone where the other may be chance.',
  'not affected':
    'Hosts on which the vulnerability cannot be used, by a note or a statement. They count 0 in the exposure and are read anew on every report.',
  'baseline rate':
    'How often sound updates of this kind fail: counted once a day over a year, without those that were found bad; 0.1 to 2 %, and 0.3 % from fewer than 100 tries.',
  'usual cost':
    'What installing an update of this kind costs on these hosts before anything is known of it. It is owed whenever this one, or what follows it, is installed, so waiting does not save it: it is drawn hollow and counts on both sides.',
  'failure rate':
    'What is believed of the rate at which it fails (q): an update is sound (90 %), flawed (7 %) or bad (3 %) before anybody tried it, and every try moves that belief.',
  waiting:
    'Installed, and not reported a day or more after it: neither clean nor failed. It counts as down only where hosts that did not try it fall silent less often.',
  'time to carry':
    'Days from release until so many hosts carry an update, over all hosts that it is for. Updates under way tell what has come to pass and no more (product-limit estimate); hosts that nobody has heard of lately are left out while that is so.',
  orders:
    'What a host is told to do with each update that it lacks, as a signed text. The host checks the signature, keeps the newest, puts it in force with its own package manager, and says what became of it.',
  'heard by':
    'Hosts on which a decision is known to be kept: they said so, or asked again with it in hand. That a host was told is not enough. Nothing is in force on a host that has not said so.',
  carries: 'Every product that the update speaks of has the fix, told from the version that the host reported.',
  lacks: 'Some or all of the products that the update speaks of are below the fixed version.',
  'products not read':
    'Products of an advisory that could not be matched with what hosts report: without a package URL, with a name that nobody has mapped, or with versions that cannot be ordered. Whether hosts lack its fix is then unknown, not “none”. A mapping says once what a vendor’s name means, and holds for all its documents.',
  'restart outstanding': 'It has the fix, but was last started before; the old version runs until the host is restarted.',
  claimed: 'The host said that it installed the update. What it has is a fact only once it reports its versions again.',
  failed: 'The last attempt to install it failed, or it was removed again. The code stands beside the host.',
  pilot: 'Some hosts try an update before the others, which wait for what they show, at most until the answer day.',
  sample:
    'The hosts of a pilot. Half are drawn so that every model, site and role is among them, the others in proportion to how many hosts of a kind there are. Protected hosts, silent ones and those of tier 1 are not drawn.',
  freeze:
    'Between two instants nothing is offered, installed or restarted, whatever the update; what falls due meanwhile waits. Its end may be spread, so that not all hosts go on at once. A freeze of all populations stops everything. What is already downloaded may install all the same.',
  spread:
    'What comes in parts comes for as many hosts of each population, model, site and role in each of them; protected hosts come last, and so do hosts that join later.',
  'by operator':
    'Offered and in sight, never begun by itself: whoever runs the host begins, by the checklist and in the order that the verdict tells. A day by which it is due is then a request.',
  slot: 'The hours in which an operator agreed to install an update by hand. That it is done is what was said, until the next report of the host shows it; where that report lacks it, it is told as not so.',
  removal:
    'A block may ask hosts that carry the update to go back to what they had before. Each host has its own last day for that, as the vendor tells.',
  proposal:
    'A verdict that forces hosts of tier 1, disturbs them in busy hours, or overrides an exception of somebody else is proposed: it holds nothing until an approver says so, and lapses after its day.',
  requires:
    'What a host must have to take the update, as its notice says: a product, or a trait such as its model or free space. A host that is known to lack it is not offered the update, whatever is decided, until it has it; one that does not tell is not held back.',
  'stays at':
    'The release of a platform that a population is held at: no rule offers an upgrade above it. A host above it is named and never lowered. To change it is to promote the population.',
  caution:
    'For a time standing rules offer less: watchful doubles their delays, judged only lets them offer nothing. What has a verdict goes on.',
  gate: 'What a pilot must show. It is met once the failure rate is below its limit, sure to 95 %; it fails with one host down, or with two failures or more that make it sure that the rate is above what is asked for.',
  soaked: 'Installed, restarted where that is needed, and reported after the days that were agreed, without a failure.',
  'sign-off': 'The word of a department, asked for when the pilot started, that its hosts work as before.',
  'newest only':
    'A newer update is released for the same hosts and brings this one, so one judgement answers both. It unfolds when the newer is blocked.',
  level: 'The newest update of the track that the installed version reaches.',
  'in part': 'Some of the products that the update speaks of have the fix, others lack it.',
  missing: 'None of the products that the update speaks of has the fix.',
  unknown: 'The host has not been heard from for three of its rhythms and three days. Its last known state is kept beside it.',
  'not applicable': 'The host has no product that the update speaks of, or is of another platform.',
  protected: 'A host that the organisation cannot spare: it is never drawn into a sample.',
  supply:
    'The source from which a host should take updates. A host that is set to another one, or has packages that came from another one, stands on Hosts.',
  'ask now':
    'A host that waits for its orders hears at once that it is to report; any other as it next asks for them. It has answered once it has reported.',
  candidate:
    'The version that the package manager of the host would install, as of its last report: what its sources have, less what is kept back there.',
  'on their sources':
    'Whether the lists that a host last fetched from its sources have a version with the fix for everything on it that lacks the update. Until they do, the host cannot install it, whatever is decided.',
  'busy hours':
    'Hours in which nothing is installed or restarted on the hosts of a population before it is due; once it is due, they give way.',
  windows:
    'The only hours in which anything is installed or restarted on the hosts of a population, also past due: a host waits for the next one and counts as late.',
  'time for a host that was away': 'How long a host that was silent has after its return until anything is due on it.',
  tier: 'What an outage of one host costs: tier 1 is the costliest to lose, tier 4 the easiest to spare.',
  'in force':
    "The first that applies: a force that names what it overrides, an exception, a freeze, the latest verdict, that it supersedes a blocked update and nobody has answered yet, the release that the population stays at, the fleet's caution, the standing rule.",
  'standing rule': 'What happens to an update that nobody has judged: when it is offered to this population, if ever.',
  'enough tries':
    'A rule may wait for the tries of another population, in a pilot or not: until they are sure to 95 % that it fails on less than 5 % of the hosts, or as little as so few can show. If they fail, nothing is offered until somebody judges.',
  'affected versions': 'Versions that lack the fix. Several ranges of one product are its tracks.',
  exception:
    'Hosts that depart from the verdicts on an update, a product or a kind until a day. Each has an owner, a reason and an end; it comes back 14, 7 and 1 days before, and after its day the verdicts count again.',
  decided: 'Verdicts, exceptions and answers on this update. What has ended or was taken back is shown faint.',
  succession: 'What this update replaces, and what replaces it. A block says nothing about a successor.',
} as const;

export type TermName = keyof typeof TERMS;

/** The place of a term in the glossary. */
export const anchorOf = (name: TermName) => name.replaceAll(' ', '-');
