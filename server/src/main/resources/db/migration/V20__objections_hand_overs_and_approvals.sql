-- An objection to a force that goes over an exception; and a case that was given to somebody else, which goes on as a note of its own.
alter table case_note add column objects_to bigint; -- number of the force
alter table case_note add column for_exception bigint; -- number of the exception that it goes over
alter table case_note add column goes_on_from bigint;

-- That an exception has lapsed is written into the record once.
alter table exception_grant add column lapse_told boolean default false not null;
update exception_grant set lapse_told = true where ends <= current_timestamp;

-- Exceptions can need an approver too.
alter table exception_grant add column approver varchar(200);
alter table proposal add column about varchar(20) default 'VERDICT' not null;

-- Which hosts have each update at the end of the last kept day, by last known states, and how that became so from day to day.
create table kept_having (
    update_id varchar(200) primary key,
    hosts blob not null -- a bitmap of host numbers
);
create table kept_day_change (
    update_id varchar(200) not null,
    on_day date not null,
    gained blob not null,
    lost blob not null,
    primary key (update_id, on_day)
);
create index kept_day_change_by_day on kept_day_change (on_day);
-- Which hosts came and left since the kept day before; the first one has all.
create table kept_fleet_change (
    on_day date primary key,
    joined blob not null,
    gone blob not null
);

-- Which decision an entry of the record is about: by it, an entry says that the decision was taken back later.
create table record_entry_about (
    entry bigint primary key references record_entry (number),
    kind varchar(30) not null,
    decision bigint not null
);
create index record_entry_about_decision on record_entry_about (kind, decision);
