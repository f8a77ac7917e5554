-- How many hosts were in which state at the end of each day, as it was known then.
create table kept_day (
    on_day date primary key, -- in UTC
    at timestamp(9) with time zone not null, -- when it was counted
    hosts integer not null,
    unknown_hosts integer not null,
    last_report timestamp(9) with time zone,
    populations varchar(1000000) not null -- JSON: identifier, name and hosts of each
);
-- An update on a day on which some of its numbers were others than on the day before.
create table kept_day_update (
    update_id varchar(1000) not null,
    on_day date not null references kept_day (on_day),
    counts varchar(1000000) not null, -- JSON: by population the hosts in each state, in the order of the states
    primary key (update_id, on_day)
);

-- How a case stood, and what was foreseen, when a verdict on it was handed down.
create table verdict_sheet (
    verdict bigint primary key references verdict (number),
    content varchar(1000000) not null -- JSON
);

-- The record of one person.
create index record_author on record_entry (author, number);

-- Who is sent the digest, and when.
create table digest_subscription (
    account varchar(100) primary key references account (name) on delete cascade,
    address varchar(320) not null,
    at_hour integer not null, -- of the day, by the clock of the zone
    zone varchar(100) not null,
    last_sent timestamp(9) with time zone,
    failed_at timestamp(9) with time zone, -- the last try, if it failed
    failure varchar(1000)
);

-- Orders that a host has last said to keep, and what became of them there.
create table host_receipt (
    host integer primary key references host (number),
    current_at timestamp(9) with time zone not null, -- the last instant at which it is known to have kept what held for it
    kept_tag varchar(300) not null, -- of the orders that it was last known to keep
    received_at timestamp(9) with time zone, -- the last word of it; none where it only asked
    content varchar(100000) not null -- JSON: what it said
);

-- When a token was last used, to within an hour.
alter table machine_token add column last_used_at timestamp(9) with time zone;
