-- What is set for the whole instance, by name: when backups are taken, who must use a second factor.
create table setting (
  name  varchar(100) primary key,
  content varchar(10000) not null
);

-- The second factor of a person (RFC 6238): its key in Base32, whether a first code has shown that it works, and the last time step whose code was used.
alter table account add column second_factor_key varchar(100);
alter table account add column second_factor_confirmed boolean default false not null;
alter table account add column second_factor_step bigint default 0 not null;

-- Formats that a token or feed may bring, comma-separated. Those that were made before may bring what they did, but no populations.
alter table machine_token add column formats varchar(1000) default '' not null;
update machine_token set formats = 'CSAF,UPDATE_NOTICE,UPDATEINFO,REPOSITORY,OSV,INVENTORY,CYCLONEDX,HOST_TABLE,EXPLOIT_SCORES,KNOWN_EXPLOITED,OPENVEX,KNOWN_ISSUES,FAILURE_REPORTS'
  where scope = 'IMPORT';
alter table feed add column formats varchar(1000) default '' not null;
update feed set formats = 'CSAF,UPDATE_NOTICE,UPDATEINFO,OSV,EXPLOIT_SCORES,KNOWN_EXPLOITED,OPENVEX,KNOWN_ISSUES,FAILURE_REPORTS' where kind = 'DOCUMENT';
update feed set formats = 'CSAF' where kind = 'CSAF_PROVIDER';

-- Refused or waiting documents that a person has put aside.
alter table document add column dismissed_by varchar(200);
alter table document add column dismissed_at timestamp(6) with time zone;
