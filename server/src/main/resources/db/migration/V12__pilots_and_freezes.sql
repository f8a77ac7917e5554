-- Some hosts that try an update before the others.
create table pilot (
    number bigint primary key,
    asked_limit double precision not null, -- highest failure rate that is asked for
    hosts_at_start integer not null,       -- fixes what the gate can ask for
    soak_seconds bigint not null,
    seed varchar(700) not null,
    also_tier_1 boolean not null,
    failed_at timestamp(6) with time zone
);
create table pilot_trait (
    pilot bigint not null references pilot (number),
    place integer not null,
    trait varchar(200) not null,
    primary key (pilot, place)
);
create table pilot_department (
    pilot bigint not null references pilot (number),
    department varchar(200) not null,
    signed_off_by varchar(200),
    signed_off_at timestamp(6) with time zone,
    primary key (pilot, department)
);
create table pilot_host (
    pilot bigint not null references pilot (number),
    place integer not null,
    host integer not null,
    since timestamp(6) with time zone not null,
    until timestamp(6) with time zone,
    primary key (pilot, place)
);
alter table verdict add column pilot bigint references pilot (number);

-- Between two instants nothing is offered, installed or restarted. No population: all of them.
create table freeze (
    number bigint primary key,
    begins timestamp(6) with time zone not null,
    ends timestamp(6) with time zone not null,
    reason varchar(2000) not null,
    author varchar(200) not null,
    created_at timestamp(6) with time zone not null,
    revoked_at timestamp(6) with time zone
);
create table freeze_population (
    freeze bigint not null references freeze (number),
    population varchar(60) not null,
    primary key (freeze, population)
);
create table verdict_overridden_freeze (
    verdict bigint not null references verdict (number),
    overridden bigint not null,
    primary key (verdict, overridden)
);
