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
