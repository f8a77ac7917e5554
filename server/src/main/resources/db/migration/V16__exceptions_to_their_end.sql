-- What a vendor calls its links, with whom a document may be shared, and where in it stands what was read of each product.
alter table update_reading_link add column title varchar(1000000) default '' not null;
alter table update_reading add column sharing varchar(30);
create table update_reading_place (
    reading bigint not null references update_reading (number) on delete cascade,
    position integer not null,
    product varchar(1000000) not null,
    distro varchar(1000000) not null,
    arch varchar(1000000) not null,
    name varchar(1000000) not null,
    place varchar(1000000) not null,
    primary key (reading, position)
);

-- What the catalogue of exploited vulnerabilities asks for, and until when.
alter table known_exploited add column asked varchar(1000000) default '' not null;
alter table known_exploited add column due date;
alter table known_exploited add column ransomware boolean default false not null;

-- An exception that is renewed goes on as a new one, and the earlier one is taken back in the same moment.
alter table exception_grant add column goes_on_from bigint; -- number of the exception that it goes on from
alter table exception_grant add column renewals integer default 0 not null; -- those that were not taken back
-- A list of some hundred hosts by name.
alter table exception_grant alter column hosts set data type varchar(6000);
-- What may end it before its day.
alter table exception_grant add column ends_when varchar(30); -- SUCCESSOR, ISSUE_FIXED
alter table exception_grant add column ends_issue varchar(500);
alter table exception_grant add column ended_early timestamp(9) with time zone;

-- People who had an account once: whoever they answered for has nobody now.
create table former_person (
    name varchar(200) not null,
    display_name varchar(200) not null,
    left_at timestamp(9) with time zone not null,
    primary key (name, left_at)
);

-- Of a person's own calendar: whose it is.
alter table machine_token add column account varchar(100) references account (name) on delete cascade;
