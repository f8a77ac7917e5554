-- Tables and columns by the names that the code uses.
alter table does_not_matter rename to not_affected_note;
alter table strike rename to dismissed_failure;
alter table told_trait rename to imported_trait;
alter table rule_answer rename to acknowledgement;
alter table rule_answer_population rename to acknowledgement_population;
alter table fact rename to product_version;
alter table fact_change rename to product_change;

alter table verdict alter column handed_down rename to created_at;
alter table exception_grant alter column made rename to created_at;
alter table acknowledgement alter column given rename to created_at;
alter table not_affected_note alter column written rename to created_at;
alter table dismissed_failure alter column struck rename to created_at;
alter table weights alter column since rename to created_at;
alter table feed alter column added rename to created_at;
alter table trusted_key alter column added rename to created_at;
alter table allowed_host alter column added rename to created_at;
alter table machine_token alter column created rename to created_at;
alter table machine_token alter column expires rename to expires_at;
alter table verdict alter column taken_back rename to revoked_at;
alter table exception_grant alter column taken_back rename to revoked_at;
alter table acknowledgement alter column taken_back rename to revoked_at;
alter table not_affected_note alter column taken_back rename to revoked_at;
alter table dismissed_failure alter column taken_back rename to revoked_at;
alter table acknowledgement_population alter column answer rename to acknowledgement;
alter table outcome alter column before_fact rename to before_product;

update document set outcome = case outcome when 'TAKEN' then 'ACCEPTED' when 'KNOWN' then 'DUPLICATE' when 'OLDER' then 'STALE' when 'REFUSED' then 'REJECTED' else outcome end;

-- What stood as a list in a text has a table of its own.
create table verdict_override (
  verdict    bigint not null references verdict (number),
  overridden bigint not null,
  primary key (verdict, overridden)
);
insert into verdict_override (verdict, overridden)
  select distinct v.number, o.number from verdict v join verdict o on concat(',', v.overrides, ',') like concat('%,', o.number, ',%') where v.overrides <> '';

create table verdict_overridden_exception (
  verdict    bigint not null references verdict (number),
  overridden bigint not null,
  primary key (verdict, overridden)
);
insert into verdict_overridden_exception (verdict, overridden)
  select distinct v.number, e.number from verdict v join exception_grant e on concat(',', v.overridden_exceptions, ',') like concat('%,', e.number, ',%')
  where v.overridden_exceptions <> '';

create table verdict_reason (
  verdict bigint      not null references verdict (number),
  reason  varchar(30) not null,
  primary key (verdict, reason)
);
insert into verdict_reason (verdict, reason)
  select distinct v.number, regexp_substr(v.reasons, '[^,]+', 1, cast(place.x as int)) from verdict v cross join system_range(1, 20) place
  where regexp_substr(v.reasons, '[^,]+', 1, cast(place.x as int)) is not null;

create table account_population (
  account    varchar(100) not null references account (name) on delete cascade,
  population varchar(200) not null,
  primary key (account, population)
);
insert into account_population (account, population)
  select distinct a.name, regexp_substr(a.populations, '[^,]+', 1, cast(place.x as int)) from account a cross join system_range(1, 500) place
  where regexp_substr(a.populations, '[^,]+', 1, cast(place.x as int)) is not null;

create table machine_token_format (
  token  varchar(100) not null references machine_token (name) on delete cascade,
  format varchar(30)  not null,
  primary key (token, format)
);
insert into machine_token_format (token, format)
  select distinct t.name, regexp_substr(t.formats, '[^,]+', 1, cast(place.x as int)) from machine_token t cross join system_range(1, 50) place
  where regexp_substr(t.formats, '[^,]+', 1, cast(place.x as int)) is not null;

create table feed_format (
  feed   varchar(100) not null references feed (name) on delete cascade,
  format varchar(30)  not null,
  primary key (feed, format)
);
insert into feed_format (feed, format)
  select distinct f.name, regexp_substr(f.formats, '[^,]+', 1, cast(place.x as int)) from feed f cross join system_range(1, 50) place
  where regexp_substr(f.formats, '[^,]+', 1, cast(place.x as int)) is not null;

alter table verdict drop column overrides;
alter table verdict drop column overridden_exceptions;
alter table verdict drop column reasons;
alter table account drop column populations;
alter table machine_token drop column formats;
alter table feed drop column formats;

create index exception_grant_scope on exception_grant (scope_type, scope);
create index not_affected_note_update on not_affected_note (update_id);
create index dismissed_failure_update on dismissed_failure (update_id);

-- Answers kept for requests that are sent again have another shape now; whoever was cut off asks anew.
delete from answered_request;

-- Hosts that a person retired count nowhere until they report again.
create table retired_host (
  host       int primary key references host (number),
  reason     varchar(2000) not null,
  author     varchar(200)  not null,
  created_at timestamp(6) with time zone not null
);
