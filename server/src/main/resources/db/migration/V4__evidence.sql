-- The product of the update that a host had when it tried, by the number of the fact.
alter table outcome add column before_fact int;

-- The hosts that a verdict named at that moment, whether or not they lacked the update; a serialized bitmap of host numbers.
alter table verdict add column named varbinary(8000000);

-- Exploit probabilities of weaknesses that some update closes: each that differs from the one before.
create table exploit_score (
  cve         varchar(30) not null,
  probability double precision not null,
  percentile  double precision not null,
  scored      date not null,
  model       varchar(200) not null,
  read        timestamp(6) with time zone not null,
  primary key (cve, read)
);

-- When a weakness was first read to be listed as exploited.
create table exploited_since (
  cve  varchar(30) primary key,
  read timestamp(6) with time zone not null
);

-- Hosts on which an update is noted not to matter.
create table does_not_matter (
  number     bigint primary key,
  update_id  varchar(500) not null,
  hosts      varchar(2000) not null,
  reason     varchar(4000) not null,
  author     varchar(200) not null,
  written    timestamp(6) with time zone not null,
  hosts_then varbinary(8000000) not null,
  taken_back timestamp(6) with time zone
);

-- Failures that are said not to be by the update.
create table strike (
  number     bigint primary key,
  update_id  varchar(500) not null,
  host       varchar(500) not null,
  reason     varchar(4000) not null,
  author     varchar(200) not null,
  struck     timestamp(6) with time zone not null,
  taken_back timestamp(6) with time zone
);

-- The settings of the weighing, each time they were changed.
create table weights (
  number  bigint generated always as identity primary key,
  content varchar(10000) not null,
  author  varchar(200) not null,
  since   timestamp(6) with time zone not null
);

-- When a person last looked at the docket: now, and before this visit.
create table last_look (
  account varchar(100) primary key references account (name) on delete cascade,
  before_visit timestamp(6) with time zone,
  latest       timestamp(6) with time zone not null
);

-- Addresses from which documents are fetched again and again.
create table feed (
  name          varchar(100) primary key,
  kind          varchar(20)   not null,
  address       varchar(2000) not null,
  every_minutes int           not null,
  namespace     varchar(200),
  distro        varchar(200),
  author        varchar(200)  not null,
  added         timestamp(6) with time zone not null,
  etag          varchar(500),
  last_modified varchar(100),
  seen_until    timestamp(6) with time zone, -- of a provider: the last change of a document that was fetched
  tried         timestamp(6) with time zone,
  succeeded     timestamp(6) with time zone,
  outcome       varchar(4000) not null, -- of the last try, in words
  failures      int           not null, -- in a row
  due           timestamp(6) with time zone not null
);

-- Keys by which documents of providers may be signed.
create table trusted_key (
  fingerprint varchar(100) primary key,
  owner       varchar(1000) not null,
  armored     clob          not null,
  author      varchar(200)  not null,
  added       timestamp(6) with time zone not null
);

-- Fingerprint of the key that signed a document, where that was checked; and whether it was held because that failed.
alter table document add column signed_by varchar(100);
alter table document add column distrusted boolean default false not null;
