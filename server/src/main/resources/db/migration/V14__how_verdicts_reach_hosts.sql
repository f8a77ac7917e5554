-- How a verdict reaches its hosts: one part after the other, by whoever runs them, or by removing it.
alter table verdict add column by_operator boolean default false not null;
alter table verdict add column removes boolean default false not null;
create table verdict_part (
    verdict bigint not null references verdict (number),
    place integer not null,
    ends timestamp(6) with time zone not null,
    hosts blob not null, -- a serialized bitmap; later joiners follow with the last part
    primary key (verdict, place)
);
create table verdict_step (
    verdict bigint not null references verdict (number),
    place integer not null,
    words varchar(500) not null,
    primary key (verdict, place)
);
create table verdict_host_order (
    verdict bigint not null references verdict (number),
    place integer not null,
    host varchar(500) not null,
    primary key (verdict, place)
);

-- How many days after its install a host can remove it.
alter table update_reading add column removable_days integer;

-- What the tries of populations have shown, for which the rules of others wait.
create table tries_shown (
    update_id varchar(200) not null,
    population varchar(60) not null,
    met_at timestamp(6) with time zone,
    failed_at timestamp(6) with time zone,
    primary key (update_id, population)
);
