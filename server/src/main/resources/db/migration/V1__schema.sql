-- People and machines.
create table account (
  name          varchar(100) primary key,
  display_name  varchar(200) not null,
  role          varchar(30)  not null,
  populations   varchar(4000) not null, -- of an operator: the ids of those that are its own, comma-separated
  password_hash varchar(200) not null,
  one_time      boolean not null, -- the password was made by somebody else and must be changed first
  version       int not null
);

create table machine_token (
  name    varchar(100) primary key,
  digest  varchar(64)  not null unique, -- SHA-256 of the token; the token itself is shown once
  scope   varchar(30)  not null,
  host    varchar(500), -- of a host's own token: the host
  created timestamp(6) with time zone not null,
  expires timestamp(6) with time zone
);

-- Hosts that may be fetched from although they are private.
create table allowed_host (
  name   varchar(255) primary key,
  author varchar(200) not null,
  added  timestamp(6) with time zone not null
);

-- Everything that came in, taken or refused; whole host reports that brought no problem stand in host alone.
create table document (
  number    bigint generated always as identity primary key,
  name      varchar(500) not null,
  digest    varchar(64)  not null,
  format    varchar(30),
  subject   varchar(500) not null,
  revision  varchar(500) not null,
  outcome   varchar(30)  not null,
  received  timestamp(6) with time zone not null,
  sender    varchar(200) not null,
  namespace varchar(200), -- what the sender told beside it
  distro    varchar(200),
  columns   varchar(100000),
  content   blob,
  tried_again bigint references document (number) -- of a refused one: the document that it became
);
create index document_digest on document (digest, outcome);
create index document_outcome on document (outcome, number);

create table document_problem (
  document bigint not null references document (number),
  position int    not null,
  place    varchar(1000) not null,
  reason   varchar(4000) not null,
  primary key (document, position)
);

-- The updates that were taken from a document, each with its revision.
create table document_part (
  document bigint not null references document (number),
  format   varchar(30)  not null,
  subject  varchar(500) not null,
  revision varchar(500) not null,
  primary key (document, subject)
);
create index document_part_subject on document_part (subject, format, document);

-- An inventory is stored once per distinct content; hosts point to it.
create table inventory (
  digest  varchar(64) primary key,
  content clob not null
);

create table host (
  number          int primary key,
  name            varchar(500) not null unique,
  platform        varchar(500) not null,
  traits          clob not null, -- as the host tells them
  supply          varchar(1000),
  last_start      timestamp(6) with time zone,
  last_report     timestamp(6) with time zone not null,
  inventory       varchar(64) not null references inventory (digest),
  running         clob not null, -- versions that still run though another is installed over them
  absences        varchar(100000) not null,
  first_report    timestamp(6) with time zone not null,
  first_inventory varchar(64) not null references inventory (digest)
);

-- Traits that a table tells of a host, whether or not it has reported yet.
create table told_trait (
  host   varchar(500) primary key,
  traits clob not null
);

-- What changed on a host, from which past days are answered.
create table fact_change (
  host         int not null references host (number),
  build        varchar(700) not null,
  from_version varchar(100000), -- several side by side are written as one
  to_version   varchar(100000),
  at           timestamp(6) with time zone not null
);
create index fact_change_host on fact_change (host, at);

-- What happened with an update on a host.
create table outcome (
  host          int not null references host (number),
  update_id     varchar(500) not null,
  revision      varchar(500),
  what          varchar(20) not null,
  at            timestamp(6) with time zone not null,
  code          varchar(500),
  failure_class varchar(20),
  primary key (host, update_id, what, at)
);
create index outcome_update on outcome (update_id);

-- What people decided. Nothing is deleted; taking back sets taken_back.
create table verdict (
  number     bigint primary key,
  update_id  varchar(500) not null,
  revision   varchar(500) not null,
  population varchar(60)  not null,
  narrowing  varchar(2000),
  type       varchar(20)  not null,
  ends       timestamp(6) with time zone not null,
  reasons    varchar(500) not null,
  words      varchar(4000) not null,
  author     varchar(200) not null,
  handed_down timestamp(6) with time zone not null,
  overrides  varchar(2000) not null,
  overridden_exceptions varchar(2000) not null,
  hosts      varbinary(8000000) not null, -- the hosts it was for at that moment, as a serialized bitmap of host numbers
  taken_back timestamp(6) with time zone
);

create table exception_grant (
  number     bigint primary key,
  scope_type varchar(20)   not null,
  scope      varchar(700)  not null,
  hosts      varchar(2000) not null,
  effect     varchar(20)   not null,
  ends       timestamp(6) with time zone not null,
  reason     varchar(4000) not null,
  owner      varchar(200)  not null,
  measure    varchar(4000) not null,
  author     varchar(200)  not null,
  made       timestamp(6) with time zone not null,
  taken_back timestamp(6) with time zone
);

create table rule_answer (
  number     bigint primary key,
  update_id  varchar(500) not null,
  author     varchar(200) not null,
  given      timestamp(6) with time zone not null,
  taken_back timestamp(6) with time zone
);

-- What was answered to a request with an Idempotency-Key, so that the same request again changes nothing.
create table answered_request (
  caller   varchar(200) not null,
  id       varchar(300) not null,
  request  varchar(64)  not null, -- SHA-256 of the request
  answer   clob not null,
  answered timestamp(6) with time zone not null,
  primary key (caller, id)
);

-- Append-only; each entry's hash covers the one before it.
create table record_entry (
  number   bigint primary key,
  at       timestamp(6) with time zone not null,
  author   varchar(200) not null,
  kind     varchar(30)  not null,
  subject  varchar(500) not null,
  sentence varchar(8000) not null,
  hash     varchar(64)  not null
);
create index record_subject on record_entry (subject, number);
