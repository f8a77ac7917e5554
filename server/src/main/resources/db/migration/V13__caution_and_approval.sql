-- For a time standing rules offer less, or nothing.
create table caution (
    number bigint primary key,
    level varchar(20) not null,
    ends timestamp(6) with time zone not null,
    reason varchar(2000) not null,
    owner varchar(200) not null,
    author varchar(200) not null,
    created_at timestamp(6) with time zone not null,
    revoked_at timestamp(6) with time zone
);

-- Verdicts that wait for an approver. They hold nothing.
create table proposal (
    number bigint primary key,
    update_id varchar(200) not null,
    draft clob not null, -- as JSON, as it was worded
    grounds varchar(400) not null, -- with commas: why it needs an approver
    hosts integer not null, -- for which it would have been what holds when it was proposed
    author varchar(200) not null,
    created_at timestamp(6) with time zone not null,
    lapses_at timestamp(6) with time zone not null,
    outcome varchar(20), -- none: it waits
    decided_by varchar(200),
    decided_at timestamp(6) with time zone,
    words varchar(2000)
);
alter table verdict add column approver varchar(200);
-- How a force reaches hosts that were away, or have windows.
alter table verdict add column allowance_seconds bigint default 0 not null;
alter table verdict add column outside_windows boolean default false not null;

-- Hosts for which a freeze ends before its last part does.
create table freeze_part (
    freeze bigint not null references freeze (number),
    place integer not null,
    ends timestamp(6) with time zone not null,
    hosts blob not null, -- a serialized bitmap; of the last part empty: everybody else
    primary key (freeze, place)
);

-- What follows by itself once the gate of a pilot is met.
alter table pilot add column prepared varchar(20); -- LET_GO or FORCE; none: somebody is asked
alter table pilot add column prepared_days integer; -- of FORCE: days until it is due
alter table pilot add column met_at timestamp(6) with time zone;
